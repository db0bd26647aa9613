import {
  bring,
  button,
  choose,
  confirmSafe,
  decideIfAsked,
  doChecks,
  expectAccessible,
  setPace,
  signIn,
  signOff,
} from "./app";
import { expect, test } from "./workshop";

test("case C57: a board that finds no gyro runs another target's firmware; its model says which one is its own", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  await page.goto("/");
  await button(page, "Add aircraft").click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Tag").fill("QW-19");
  await dialog.getByLabel("Type").fill("Warbler");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(dialog).toHaveCount(0);
  await bring(page, 2, "twitches, no attitude");
  await button(page, "Plug the cable in").click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("Answers, Heddle 22, and finds no gyro", { timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo).toContainText("The firmware on it looks for an Orrin");
  await expectAccessible(page);
  await todo.getByRole("button", { name: "Another one" }).click();
  await expect(todo.getByRole("heading", { level: 3 })).toHaveText(
    "Firmware of another board: right processor, wrong pads.",
  );
  await todo.getByLabel("Tag of its aircraft").fill("QW-19");
  const model = todo.getByLabel(/^Model: look at its print/);
  if (await model.isVisible()) await choose(model, /Tamsin Reed A/);
  await todo.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(todo.getByRole("note")).toContainText("its model takes TREED", { timeout: 20_000 });
  await expectAccessible(page);
  await button(page, "Order this job").click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await expect(page.getByRole("heading", { name: "Correct the target: Heddle 22 for TREED" })).toBeVisible();
  await button(page, "Begin with step 1").click();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("by its model; the firmware on it is that of TREED-B", { timeout: 30_000 });
  await decideIfAsked(page);
  await confirmSafe(page);
  await setPace(page, 12);
  await doChecks(page);
  await signOff(page, "QW-19");
  await page.goto("/bench/2");
  await expect(heading).toHaveText("Answers, Heddle 22", { timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("TREED");
});
