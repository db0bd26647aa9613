import { bring, button, decideIfAsked, emptyBay, expectAccessible, setPace, signIn, stopJob } from "./app";
import { expect, test } from "./workshop";

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
  const card = page.url();
  const steps = page.getByRole("region", { name: "Steps" });
  await expect(steps).not.toContainText("Lift the protection");
  await button(page, "Begin with step 1").click();
  await decideIfAsked(page);
  await page.goto(card);
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
