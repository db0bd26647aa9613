import { bring, choose, emptyBay, expectAccessible, setPace, signIn } from "./app";
import { finishUnwatched } from "./unwatched";
import { expect, test } from "./workshop";

test("case C29: an aircraft on which somebody clicked about goes back to its type's standard; what is its own stays", async ({
  page,
}) => {
  await signIn(page, "technician");
  await setPace(page, 40);
  const bay = await emptyBay(page);
  const shelf = page.getByLabel("Board", { exact: true });
  await choose(shelf, /QW-12/);
  await page.getByRole("button", { name: `Put it into bay ${bay}` }).click();
  await page.getByRole("button", { name: "Plug the cable in" }).click();
  await page.getByText("Set to the standard or defaults").click({ timeout: 20_000 });
  const todo = page.getByRole("region", { name: "What to do" });
  await expect(todo.getByRole("radio", { name: /^Bulrush standard/ })).toBeChecked();
  await expect(todo).toContainText(/By its newest backup \d+ places of QW-12 would change/);
  // an area that is kept whole does not change
  const stays = todo.getByRole("combobox", { name: /^What changes of / }).first();
  const area = (await stays.getAttribute("aria-label")) ?? "";
  await choose(stays, "Nothing");
  await expect(todo.getByRole("row").filter({ has: page.getByLabel(area) })).toContainText("0");
  await expectAccessible(page);
  // an area that there is none of is refused, and not left to the baseline in silence
  const refused = await page.evaluate(async (no) => {
    const body = JSON.stringify({
      bayNo: no,
      aircraftId: 1,
      goal: { kind: "baseline", base: "standard", parts: { nowhere: "board" } },
    });
    const answer = await fetch("/api/jobs", { method: "POST", headers: { "Content-Type": "application/json" }, body });
    return `${answer.status} ${await answer.text()}`;
  }, bay);
  expect(refused).toMatch(/^422 .*area-none/);
  await page.getByRole("button", { name: "Order these settings" }).click();
  await page.waitForURL(/\/jobs\/\d+$/);
  const card = page.url();
  await expect(page.getByRole("heading", { name: /^Set to Bulrush standard/ })).toBeVisible();
  await page.getByRole("button", { name: "Begin with step 1" }).click();
  await finishUnwatched(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took/);
  await page.goto(`/bench/${bay}`);
  await page.getByRole("button", { name: "Take the board out of the bay" }).click();
});

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
  await finishUnwatched(page);
  await page.getByRole("link", { name: /proof/i }).first().click();
  await page.waitForURL(/\/proof$/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("took");
  await page.goto("/bench/5");
  await page.getByRole("button", { name: "Take the board out of the bay" }).click();
  await expect(page.getByRole("button", { name: "Put it into bay 5" })).toBeVisible();
});
