import { button, expectAccessible, setPace, signIn } from "./app";
import { expect, test } from "./workshop";

test("three boards that do not fly lie on the bench at the start, each with what is wrong with it", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 20);
  for (const [bay, label, said] of [
    [4, "which does not start", "Plugged in, not answering yet"],
    [5, "nobody knows whose", "Shows only its loader"],
    [6, "which restarts for ever", "Comes and goes: it restarts again and again"],
  ] as const) {
    await page.goto(`/bench/${bay}`);
    await expect(page.getByText(`Bay ${bay}`, { exact: true })).toBeVisible();
    await expect(page.getByText(new RegExp(`${label}$`))).toBeVisible();
    await button(page, "Plug the cable in").click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText(said, { timeout: 20_000 });
    await expectAccessible(page);
    await button(page, "Pull the cable").click();
    await expect(button(page, "Plug the cable in")).toBeVisible();
  }
});
