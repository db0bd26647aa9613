import { bring, confirmSafe, doChecks, expectAccessible, setPace, signIn, signOff } from "./app";
import { expect, test } from "./workshop";

test("case C46: a board that does not start is reached by its loader, known by it, and brought back with its settings", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  await bring(page, 2, "does not start");
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  // it starts half an image and says nothing: what to try is told, the likeliest first
  await expect(page.getByRole("heading", { name: "Plugged in, not answering yet" })).toBeVisible({ timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await todo.getByRole("button", { name: "It is lit" }).click();
  await expect(todo.getByRole("list", { name: "Likely causes" })).toContainText(
    "Half an image: it starts, and what it needs is not there",
  );
  await expectAccessible(page);
  await page.getByRole("button", { name: "Pull the cable" }).click();
  await page.getByRole("button", { name: "Plug in, holding the boot button" }).click();
  await expect(page.getByRole("heading", { name: "Shows only its loader" })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("QW-10, by loader id");
  await expect(page.getByRole("radio", { name: /^Treadle 80 as it was backed up last/ })).toBeChecked({
    timeout: 20_000,
  });
  await expectAccessible(page);

  await page.getByRole("button", { name: "Order revival" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await expect(page.getByRole("heading", { name: "Revive on Treadle 80" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Steps" }).getByRole("listitem").first()).toContainText(
    "Know the board by its loader",
  );
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await confirmSafe(page);
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).toContainText("as chip 71D0-6A01-11F3 gives it", { timeout: 20_000 });
  await expect(steps).toContainText("stored as they are; it holds kept settings", { timeout: 30_000 });
  await setPace(page, 12);
  await doChecks(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took, read back from the board\./);
  await page.goto(card);
  await signOff(page, "QW-10");
  await page.goto("/aircraft/QW-10");
  await expect(page.getByRole("main")).toContainText("Treadle 80");
});
