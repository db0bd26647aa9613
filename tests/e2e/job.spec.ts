import type { Page } from "@playwright/test";
import Papa from "papaparse";
import { checkPapers, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";
import {
  beginUpdate,
  confirmSafe,
  decideAll,
  doChecks,
  expectAccessible,
  picture,
  setPace,
  signIn,
  signInAtTheDoor,
  signOff,
} from "./app";
import { expect, test } from "./workshop";

/** The workshop's key, as the page shows it to whoever may see it. */
async function keyShown(page: Page): Promise<string> {
  const lead = await page.context().browser()?.newContext();
  const keeping = await lead?.newPage();
  if (!keeping) throw new Error("there is no browser");
  await signInAtTheDoor(keeping, "lead");
  await keeping.goto("/keeping");
  const words = await keeping.getByRole("main").innerText();
  await lead?.close();
  // a key may begin or end with “-”, where no word does
  return /(?<![\w-])[\w-]{43}(?![\w-])/.exec(words)?.[0] ?? "";
}

test("a board is updated, restored, proved and signed off", async ({ page }) => {
  await page.goto("/sign-in");
  await signIn(page, "technician");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Sixteen aircraft.");
  await expect(page.getByRole("table", { name: "Fleet register" }).getByRole("row")).toHaveCount(17);
  await expectAccessible(page);
  await setPace(page, 8);
  await picture(page, "fleet");

  const card = await beginUpdate(page, "QW-01", 1);
  await expectAccessible(page);
  await test.step("case C05, case C06, case C07, case C08, case C09: the plan says what will change before it changes", async () => {
    await page.getByRole("link", { name: "Look at the plan and decide" }).click();
    await expect(page.getByRole("heading", { name: /Silent changes/ })).toBeVisible();
    await expect(page.locator("#behaviour")).toContainText("Until 22 a share of the full travel");
    await expect(page.locator("#limited")).toContainText("Nettle 20 runs Heddle 23 at 8 kHz at most");
    await expect(page.locator("#converted")).toContainText("yaw.turn-rate → feel.yaw.rate");
    await expect(page.locator("#retired")).toContainText("gyro.range");
    await expectAccessible(page);
    await picture(page, "plan");
    await page.emulateMedia({ colorScheme: "dark" });
    await expectAccessible(page);
    await page.emulateMedia({ colorScheme: "light" });
    await page.getByRole("link", { name: "Back to the card" }).click();
  });
  await test.step("the papers of a visit hold while it goes on", async () => {
    const answer = await page.request.get(`${card.replace("/jobs/", "/api/jobs/")}/papers`);
    const report = await checkPapers(valueOf(readArchive(await answer.body())), { keys: [await keyShown(page)] });
    expect(report).toMatchObject({ faults: [], origin: "key", statement: { goal: "update", ended: "open" } });
    await page.goto(card);
  });
  await decideAll(page);
  await setPace(page, 2);
  await confirmSafe(page);
  await expect(page.getByRole("progressbar", { name: "Write Heddle 23" })).toBeVisible({ timeout: 20_000 });
  await expect(
    page
      .getByRole("list", { name: "Flash of the board" })
      .getByText(/written and checked/)
      .first(),
  ).toBeAttached({ timeout: 30_000 });
  await picture(page, "flash");
  await setPace(page, 8);
  await doChecks(page);
  await expect(page.getByText(/came back on port \d+ as a loader; the chip id is the same/)).toBeVisible();

  await page.goto(`${card}/proof`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/All \d+ values took, read back from the board\./);
  await expectAccessible(page);
  await picture(page, "proof");
  await test.step("case C32: the same proof for other programs, value by value", async () => {
    const file = async (form: string) => {
      const answer = await page.request.get(`${card.replace("/jobs/", "/api/jobs/")}/proof?form=${form}`);
      expect(answer.headers()["content-disposition"]).toMatch(new RegExp(`QW-01 visit \\d+ proof\\.${form}`));
      return answer.text();
    };
    const told = JSON.parse(await file("json")) as {
      says: string;
      counts: Record<string, number>;
      lines: { id: string; result: string; planned: string }[];
    };
    const { data } = Papa.parse<Record<string, string>>(await file("csv"), { header: true });
    expect(await page.getByRole("heading", { level: 1 }).textContent()).toBe(told.says);
    expect(data.map(({ place, result }) => [place, result])).toEqual(told.lines.map(({ id, result }) => [id, result]));
    for (const [result, n] of Object.entries(told.counts))
      expect([result, told.lines.filter((line) => line.result === result).length]).toEqual([result, n]);
    expect((await page.request.get(`${card.replace("/jobs/", "/api/jobs/")}/proof?form=xml`)).status()).toBe(422);
  });
  await page.getByRole("searchbox", { name: "Search Proof" }).fill("feel.yaw.rate");
  const row = page.getByRole("table", { name: "Proof" }).getByRole("row").nth(1);
  await expect(row).toContainText("2.79 rad/s → 160 °/s");
  await expect(page).toHaveURL(/q=feel\.yaw\.rate/);
  await test.step("case C74: one chain, from the backup's line over the rules to the line of the read-back", async () => {
    await expect(row.getByRole("link", { name: /^backup, line \d+$/ })).toBeVisible();
    await expect(row).toContainText(/sent in line \d+, read back in line \d+/);
    const back = await row.getByRole("link", { name: /^read back in line/ }).getAttribute("href");
    await page.getByRole("searchbox", { name: "Search Proof" }).fill("motor.rest");
    await expect(page.getByRole("table", { name: "Proof" }).getByRole("row").nth(1)).toContainText(
      /decided by technician on \d{4}/,
    );
    await page.goto(back ?? "");
    await expect(page.locator(":target")).toContainText("put feel.yaw.rate 160");
    await page.goBack();
    await page.getByRole("searchbox", { name: "Search Proof" }).fill("feel.yaw.rate");
  });
  await row.getByRole("link", { name: /^backup, line/ }).click();
  await expect(page.locator(":target")).toContainText("put yaw.turn-rate 2.79");

  await page.goto(card);
  await signOff(page, "QW-01");
  await page.goto("/aircraft/QW-01");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("In service");
  await expect(page.getByRole("region", { name: "Visits to the bench" })).toContainText("signed off");
  await expect(page.getByRole("region", { name: "Board" })).toContainText("Heddle 23");
  await expectAccessible(page);
  await picture(page, "aircraft");
});

test("what is on the bench is found by keyboard, and the keys are told", async ({ page }) => {
  await signIn(page, "technician");
  await page.keyboard.press("Control+k");
  await page.getByPlaceholder(/An aircraft/).fill("QW-02");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/aircraft\/QW-02$/);
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toHaveCount(0);
});
