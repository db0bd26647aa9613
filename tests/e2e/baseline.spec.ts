import {
  choose,
  confirmSafe,
  decideIfAsked,
  doChecks,
  emptyBay,
  expectAccessible,
  setPace,
  signIn,
  signOff,
} from "./app";
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
  await decideIfAsked(page);
  await setPace(page, 8);
  await confirmSafe(page);
  await doChecks(page);
  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^All \d+ values took/);
  await page.goto(card);
  await signOff(page, "QW-12");
  await page.goto(`/bench/${bay}`);
  await page.getByRole("button", { name: "Take the board out of the bay" }).click();
});
