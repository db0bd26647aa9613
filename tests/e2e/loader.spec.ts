import { currentStep } from "@/core/job";
import { bring, button, decideEverything, emptyBay, expectAccessible, setPace, signIn, stopJob, takePlan } from "./app";
import { bringUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

test("case C23, case C60: a release that wants a newer loader: another way in first, ten seconds without power, then the flash", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-05");
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: /^Answers, Heddle 2/ })).toBeVisible({ timeout: 20_000 });
  await page.getByRole("radio", { name: /^Heddle 24/ }).check();
  await button(page, "Order this job").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  const steps = page.getByRole("region", { name: "Steps" });
  // the requirement is named before anything is touched
  await expect(steps).toContainText("Heddle 24 wants Batten 3 or later");
  await expect(steps).not.toContainText("Replace the loader");
  await button(page, "Begin with step 1").click();
  // case C70: a candidate is said to be one before anything starts, and a technician's word is not enough for it
  await page.getByRole("link", { name: /^Look at the plan and/ }).click({ timeout: 30_000 });
  await decideEverything(page, "#of-a-lead");
  await expect(page.getByText("Heddle 24 is a candidate: its maker has not called it done.")).toBeVisible();
  await expect(page.getByText("Only a lead may take this plan.")).toBeVisible();
  await expect(page.getByRole("button", { name: /[Tt]ake this plan$/ })).toHaveCount(0);
  const refused = await page.request.post(card.replace("/jobs/", "/api/jobs/"), {
    data: { kind: "take" },
    headers: { origin: new URL(card).origin },
  });
  expect([refused.status(), await refused.text()]).toEqual([422, expect.stringContaining("lead-wanted")]);
  await page.context().clearCookies();
  await signIn(page, "lead");
  await page.goto(`${card}/plan`);
  await expectAccessible(page);
  await takePlan(page);
  await page.goto(card);
  await button(page, /^It is done/).click({ timeout: 20_000 });
  await expect(steps).toContainText("It has Batten 2; it is to have Batten 3", { timeout: 30_000 });
  await expect(steps).toContainText("the serial loader in ROM is the way back");
  await expectAccessible(page);
  await button(page, /^It is so: adapter at hand/).click();
  await expect(steps).toContainText("The old loader lives on in memory", { timeout: 30_000 });
  // a slower clock, so that ten seconds are long enough to be cut short
  await setPace(page, 1);
  await button(page, "Pull the cable").click();
  await expect(steps).toContainText("Without power");
  await button(page, "Plug the cable in").click();
  await expect(steps).toContainText("That was too short");
  await button(page, "Pull the cable").click();
  await expect(steps).toContainText("Without power");
  await setPace(page, 20);
  await expect(steps).toContainText("The seconds are over", { timeout: 20_000 });
  await button(page, "Plug the cable in").click();
  await expect(steps).toContainText("It answers as Batten 3", { timeout: 30_000 });
  await expect(steps).toContainText("of 2026-10-30 speaks on", { timeout: 60_000 });
  await stopJob(page);
});

test("case C61: a board that is protected against reading: what lifting that erases is named, and asked for", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-07");
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: /^Answers, Heddle 2/ })).toBeVisible({ timeout: 20_000 });
  const protection = page.getByLabel("Its flash is protected against reading");
  await protection.click();
  await expect(protection).toBeChecked();
  await button(page, "Order this job").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).not.toContainText("Lift the protection");
  await button(page, "Begin with step 1").click();
  await bringUnwatched(page, (state) => currentStep(state)?.kind === "make-safe");
  await button(page, /^It is done/).click({ timeout: 20_000 });
  // a board that needs hands for its loader: pads or button, as the card says
  const erase = button(page, "Erase all of it");
  const pull = button(page, "Pull the cable");
  const byHand = steps.getByText("the loader has to be reached by hand");
  await expect(erase.or(byHand).first()).toBeVisible({ timeout: 30_000 });
  if (await byHand.isVisible()) {
    await pull.click();
    await page
      .getByRole("button", { name: /^Plug in, (holding the boot button|boot pads bridged)/ })
      .first()
      .click();
  }
  await expect(erase).toBeVisible({ timeout: 30_000 });
  await expect(steps).toContainText("erases the whole flash: the firmware, and the settings that it keeps");
  await expectAccessible(page);
  await erase.click();
  await expect(steps).toContainText("All of its flash is erased, on the word of technician", { timeout: 30_000 });
  await expect(steps).toContainText("speaks on port", { timeout: 60_000 });
  await stopJob(page);
});
