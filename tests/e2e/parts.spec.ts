import {
  bring,
  button,
  choose,
  decideEverything,
  emptyBay,
  expectAccessible,
  picture,
  setPace,
  signIn,
  stopJob,
} from "./app";
import { expect, test } from "./workshop";
import type { Page } from "@playwright/test";

/** Puts a board into a bay and orders a job for what is behind it; ends on its card, begun, at the battery. */
async function beginParts(page: Page, tag: string, order: (page: Page) => Promise<void>): Promise<string> {
  const bay = await emptyBay(page);
  await bring(page, bay, tag);
  await button(page, "Plug the cable in").click();
  await expect(page.getByRole("heading", { name: "Behind the board" })).toBeVisible({ timeout: 30_000 });
  await order(page);
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await button(page, "Begin with step 1").click();
  await button(page, /^It is done/).click({ timeout: 30_000 });
  await expect(page.getByText("Put the battery in").first()).toBeVisible({ timeout: 30_000 });
  await button(page, "Fit the battery").click();
  return card;
}

const all45 = async (page: Page) => {
  await button(page, "All to Spindle 45").click();
  await button(page, "Order this for 4 parts").click();
};

test("cases C94, C95: four controllers with one odd are read, brought to one release and proved; the battery goes in mid-write", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  await page.goto("/aircraft/QW-04");
  const sheet = page.getByRole("region", { name: "Its parts" });
  await expect(sheet).toContainText("The speed controller, rear left, is the odd one out. Firmware: Spindle 41");
  await page.goto("/parts?not=spindle-44");
  await expect(page.getByRole("row", { name: /QW-04.*rear left/ })).toBeVisible();
  await expectAccessible(page);
  const card = await beginParts(page, "QW-04", all45);
  await page.getByRole("link", { name: /^Look at the plan and decide/ }).click({ timeout: 60_000 });
  await decideEverything(page);
  await expect(page.getByRole("main")).toContainText("heat ceiling · front left, front right, rear left, rear right");
  await page.goto(card);
  const steps = page.getByRole("region", { name: "Steps" });
  await setPace(page, 4);
  await expect(steps.getByRole("progressbar")).toBeVisible({ timeout: 30_000 });
  await picture(page, "parts");
  await button(page, "Take the battery out").click();
  await expect(steps.getByText("Put the battery in again").first()).toBeVisible({ timeout: 60_000 });
  await setPace(page, 20);
  await button(page, "Fit the battery").click();
  await expect(steps.getByText("Take the battery out").first()).toBeVisible({ timeout: 120_000 });
  await expectAccessible(page);
  await button(page, "Take the battery out").click();
  await button(page, "Sign off QW-04 with my name").click({ timeout: 30_000 });
  await expect(page.getByRole("heading", { name: /signed off/ })).toBeVisible();
  await page.goto("/aircraft/QW-04");
  await expect(sheet.getByRole("link", { name: "Spindle 45" })).toHaveCount(4);
  await expectAccessible(page);

  // every view that looks at boards says what is behind them
  await page.getByRole("link", { name: "History" }).click();
  const visit = page
    .getByRole("list", { name: "History" })
    .getByRole("listitem")
    .filter({ hasText: "Behind the board" });
  await expect(visit.first()).toContainText(/rear left: Spindle 41, .* → Spindle 45, /);
  await expectAccessible(page);
  await page.getByRole("navigation", { name: "Whose history" }).getByRole("link", { name: "rear left" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("rear left: 3 read-outs since");
  await expectAccessible(page);
  await page.getByRole("link", { name: "Compare the two" }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-04 rear left");
  await page.goto("/compare/fleet/Sedge");
  const behind = page.getByRole("region", { name: "Behind the boards" });
  await expect(behind.getByRole("row", { name: /Firmware front right/ })).toContainText("Spindle 45");
  await expectAccessible(page);
  await page.goto("/firmware/impact?to=spindle-45");
  await expect(page.getByRole("heading", { level: 1 })).toContainText(/^Spindle 45 would touch \d+ parts: /);
  await page.getByRole("link", { name: "QW-01 rear left" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("QW-01 rear left from Spindle 44 to Spindle 45");
  await expectAccessible(page);
});

test("a board and all that is behind it are backed up in one; a campaign brings the parts of a type to a release", async ({
  page,
}) => {
  await signIn(page, "lead");
  await setPace(page, 20);
  await page.goto("/campaigns");
  await button(page, "Begin a campaign").click();
  await choose(page.getByRole("combobox", { name: "For every" }), "Sedge");
  await choose(page.getByRole("combobox", { name: "To", exact: true }), "Spindle 45");
  await expect(page.getByRole("combobox", { name: "What comes along" })).toHaveCount(0);
  await button(page, "Begin it").click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "Spindle 45 for the speed controllers of every Sedge: ",
  );
  await expect(page.getByRole("region", { name: "Who goes the same way" })).toContainText("QW-01", { timeout: 30_000 });
  await expectAccessible(page);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-02");
  await button(page, "Plug the cable in").click();
  await expect(button(page, "Order its job of the campaign")).toBeVisible({ timeout: 30_000 });
  await expect(button(page, "The board alone")).toBeVisible();
  await button(page, "Back it all up now").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Read out the parts behind the board");
  await stopJob(page);
  await page.goto(`/bench/${bay}`);
  await button(page, "Order its job of the campaign").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Spindle 45 for its parts");
  await expect(page.getByRole("region", { name: "Steps" })).toContainText("front left");
  await stopJob(page);
});

test("case C39: a power-stage code that the register does not hold is refused, and there is no way round it", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  await beginParts(page, "QW-05", all45);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("RIDGE-20 is read where RIDGE-35 is fitted by the register", { timeout: 60_000 });
  await expect(page.getByRole("link", { name: /^Look at the plan/ })).toHaveCount(0);
  await stopJob(page, "The wrong controller is fitted");
  await page.goto("/aircraft/QW-05");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Out of service");
});

test("case C64: one of four fails: the others are kept right, and that one is taken again in one click", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  const card = await beginParts(page, "QW-07", all45);
  await page.getByRole("link", { name: /^Look at the plan and decide/ }).click({ timeout: 60_000 });
  await decideEverything(page);
  await page.goto(card);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("Stopped here", { timeout: 180_000 });
  await expect(steps.getByRole("row", { name: /rear right/ }).last()).toContainText("failed");
  for (const place of ["front left", "front right", "rear left"])
    await expect(steps.getByRole("row", { name: new RegExp(place) }).last()).toContainText("done done done done");
  // what is worn fails again at once: the bench has taken the word, and says so anew
  const taken = page.waitForResponse(
    (answer) => answer.request().method() === "POST" && /\/api\/jobs\/\d+$/.test(answer.url()),
  );
  await button(page, "Begin the step again").click();
  expect((await taken).ok()).toBe(true);
  await expect(steps).toContainText("Stopped here", { timeout: 120_000 });
  await stopJob(page, "Its rear right controller is worn");
});

test("two kinds of parts on two batteries: each battery is asked for by its name, each kind is read through its own line", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  const bay = await emptyBay(page);
  await bring(page, bay, "QW-14");
  await button(page, "Plug the cable in").click();
  await expect(page.getByText("both batteries are asked for on the way")).toBeVisible({ timeout: 30_000 });
  await button(page, "Back it all up now").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await button(page, "Begin with step 1").click();
  await button(page, "It is done: propellers off, both batteries out").click({ timeout: 30_000 });
  const steps = page.getByRole("region", { name: "Steps" });
  for (const [asked, hand] of [
    ["Put the battery in", "Fit the battery"],
    ["Put the second battery in", "Fit the second battery"],
    ["Take the battery out", "Take the battery out"],
    ["Take the second battery out", "Take the second battery out"],
  ] as const) {
    await expect(steps.getByText(asked, { exact: true }).first()).toBeVisible({ timeout: 60_000 });
    await button(page, hand).click();
    await expect(button(page, hand)).toBeHidden();
  }
  // a step that runs is shown twice for a moment: as itself, and as what is done
  const closed = steps.getByRole("button", { name: /Close the line to the speed controllers By its word/ });
  await expect(closed).toBeVisible({ timeout: 60_000 });
  await page.goto("/aircraft/QW-14");
  const parts = page.getByRole("region", { name: "Its parts" });
  await expect(parts.getByRole("link", { name: "Spindle 45" })).toHaveCount(6);
  await expect(parts.getByRole("link", { name: "Pirn 5" })).toHaveCount(1);
});
