import { bring, expectAccessible, setPace, signIn } from "./app";
import { expect, test } from "./workshop";

test("a board out of its bag is read out, given to a new aircraft, and gets its job", async ({ page }) => {
  await signIn(page, "technician");
  await bring(page, 6, "A new Corsley Slate");
  await setPace(page, 40);
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await expect(page.getByRole("heading", { name: "Answers, Heddle 22. Whose is it?" })).toBeVisible({
    timeout: 20_000,
  });
  await page.getByRole("button", { name: "Back it up now" }).click();
  await expect(page.getByRole("link", { name: /^Corsley Slate Heddle 22/ })).toBeVisible({ timeout: 20_000 });
  await expectAccessible(page);

  // an aircraft that has another board keeps it, unless somebody says otherwise
  await page.getByLabel("Tag of its aircraft").fill("QW-02");
  await page.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(page.getByRole("alert").filter({ hasText: "QW-02 has another board" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Give it to QW-02 all the same" })).toBeVisible();
  await page.getByLabel("Tag of its aircraft").fill("QW-17");
  await page.getByRole("button", { name: /^Give the board to/ }).click();
  await expect(page.getByRole("alert").filter({ hasText: "There is no aircraft QW-17" })).toBeVisible();

  // what is missing is made where it is missed, and the board goes to it at once
  await page.getByRole("button", { name: "Add QW-17 to the register" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByLabel("Tag")).toHaveValue("QW-17");
  await expectAccessible(page);
  await dialog.getByLabel("Type").fill("Sedge");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByRole("heading", { name: "Answers, Heddle 22", exact: true })).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("QW-17, by chip id");
  await page.getByRole("button", { name: "Order this job" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await expect(page.getByRole("region", { name: "Steps" })).toContainText("Complete:", { timeout: 30_000 });
  await page.goto("/aircraft/QW-17/history");
  await expect(page.getByRole("main")).toContainText(
    "Its board is Corsley Slate, chip 4A17-0C31-5E90. Said by technician.",
  );
  await expect(page.getByRole("link", { name: /^QW-17 Heddle 22/ })).toHaveCount(2);
});
