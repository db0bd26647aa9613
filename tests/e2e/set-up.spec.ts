import { bring, confirmSafe, doChecks, expectAccessible, setPace, signIn, signOff } from "./app";
import { expect, test } from "./workshop";

test("case C48: an aircraft goes back to an earlier backup, without its firmware being touched", async ({ page }) => {
  await signIn(page, "technician");
  await bring(page, 5, "QW-03");
  // before the board is plugged in, the backup says what to do first
  await page.goto("/aircraft/QW-03/history");
  const earlier = page.getByRole("link", { name: "Restore this backup" }).last();
  await earlier.click();
  const way = page.getByRole("region", { name: "Restore to a board" });
  await expect(way).toContainText("The board of QW-03 is in no bay");
  const backup = page.url();

  await page.goto("/bench/5");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: "Answers, Heddle 23" })).toBeVisible({ timeout: 20_000 });
  await setPace(page, 40);
  await page.goto(backup);
  await expectAccessible(page);
  await way.getByRole("button", { name: "Order it for QW-03 in bay 5" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps.getByRole("listitem").last()).toContainText("Sign off");
  await expect(page.getByRole("heading", { name: /Set up as on \d{4}-\d\d-\d\d/ })).toBeVisible();
  await expect(steps).not.toContainText("Into its loader");
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await expect(steps).toContainText("It stays on Heddle 23", { timeout: 30_000 });
  await setPace(page, 8);
  await confirmSafe(page);
  await doChecks(page);
  await page.getByRole("link", { name: /proof/i }).first().click();
  await page.waitForURL(/\/proof$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took");
  await page.goBack();
  await signOff(page, "QW-03");
  await page.goto("/bench/5");
  await page.getByRole("button", { name: "Take the board out of the bay" }).click();
  await expect(page.getByRole("button", { name: "Put it into bay 5" })).toBeVisible();
});
