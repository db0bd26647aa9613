import { bring, button, decideEverything, doChecks, emptyBay, expectAccessible, setPace, signIn, signOff } from "./app";
import { expect, test } from "./workshop";

test("case C40: a firmware that opens no line makes a detour there and back, taken by name", async ({ page }) => {
  test.slow();
  await signIn(page, "technician");
  await setPace(page, 40);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-12");
  await button(page, "Plug the cable in").click();
  const region = page.getByRole("region", { name: "Behind the board", exact: true });
  await expect(region).toContainText("The firmware on it opens no line to the speed controllers", { timeout: 30_000 });
  await expect(page.getByRole("radio", { name: "Leave them as they are" })).toBeChecked();
  await expect(region.getByRole("radio")).toHaveCount(2);
  await expectAccessible(page);
  await page.getByRole("radio", { name: "By way of Treadle 81, a candidate" }).click();
  await expect(region).toContainText("The board is written twice");
  await button(page, "Read them all out").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await button(page, "Begin with step 1").click();
  await page.getByRole("link", { name: /^Look at the plan/ }).click({ timeout: 60_000 });
  await decideEverything(page);
  await page.goto(card);
  await button(page, /^It is done/).click({ timeout: 60_000 });
  await expect(page.getByText("Until Treadle 71 is back, nothing of QW-12 is on its board")).toBeVisible({
    timeout: 60_000,
  });
  await button(page, "Take the detour").click();
  await expect(page.getByText("Put the battery in").first()).toBeVisible({ timeout: 120_000 });
  await button(page, "Stop this job").click();
  await expect(page.getByRole("main")).toContainText("keeps Treadle 81, which was written for its parts alone");
  await button(page, "Go on with the job").click();
  await button(page, "Fit the battery").click();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps.getByText("Take the battery out").first()).toBeVisible({ timeout: 60_000 });
  await button(page, "Take the battery out").click();
  await expect(steps).toContainText(/Treadle 71 of .* speaks on port/, { timeout: 120_000 });
  await setPace(page, 8);
  await doChecks(page);
  await signOff(page, "QW-12");
  await page.goto("/aircraft/QW-12");
  await expect(page.getByRole("region", { name: "Its parts" }).getByRole("link", { name: "Spindle 41" })).toHaveCount(
    1,
  );
});

test("case C96: an ability is ordered: what it needs is said, what is missing is done, and its lever is chosen on the plan", async ({
  page,
}) => {
  test.slow();
  await signIn(page, "technician");
  await setPace(page, 40);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-04");
  await button(page, "Plug the cable in").click();
  const region = page.getByRole("region", { name: "Abilities", exact: true });
  await region
    .getByRole("button", { name: /^Turning over after a tumble: \d+ things missing/ })
    .click({ timeout: 30_000 });
  const needs = region.getByRole("list", { name: /^What it needs/ });
  await expect(needs).toContainText("Heddle 22 does not know it; Heddle 23 does");
  await expect(needs).toContainText("Speed controllers, rear left: Spindle 41 → Spindle 45. Only since 45");
  await expect(needs).toContainText("Motor protocol: digital-3 → digital-6. Only this protocol");
  await expect(needs).toContainText("on which channel, you say on the plan");
  await expectAccessible(page);
  await button(page, "Order what is missing").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await button(page, "Begin with step 1").click();
  await button(page, /^It is done/).click({ timeout: 60_000 });
  await expect(page.getByText("Put the battery in").first()).toBeVisible({ timeout: 60_000 });
  await button(page, "Fit the battery").click();
  const steps = page.getByRole("region", { name: "Steps" });
  await page.getByRole("link", { name: /^Look at the plan/ }).click({ timeout: 120_000 });
  await expect(page.getByRole("row", { name: /Only this protocol carries the word/ })).toBeVisible();
  await expect(page.getByRole("heading", { name: "What this job is for" })).toBeVisible();
  const lever = page.getByRole("row", { name: /It must never begin by itself, so a lever calls it/ });
  await expect(lever.getByRole("button", { name: /^Channel \d+/ }).first()).toBeVisible();
  await decideEverything(page);
  await page.goto(card);
  // out for the new firmware of the board, in for its parts, and out again before the line closes
  for (const [asked, hand] of [
    ["Take the battery out", "Take the battery out"],
    ["Put the battery in", "Fit the battery"],
    ["Take the battery out", "Take the battery out"],
  ] as const) {
    await expect(steps.getByText(asked).first()).toBeVisible({ timeout: 180_000 });
    await button(page, hand).click();
    await expect(button(page, hand)).toBeHidden();
  }
  await setPace(page, 8);
  await doChecks(page);
  await signOff(page, "QW-04");
  await page.goto("/aircraft/QW-04");
  await expect(page.getByRole("region", { name: "Its parts" }).getByRole("link", { name: "Spindle 45" })).toHaveCount(
    4,
  );
});
