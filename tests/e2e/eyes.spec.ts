import type { Page } from "@playwright/test";
import { beginUpdate, expectAccessible, setPace, signIn } from "./app";
import { ORIGIN, expect, test } from "./workshop";

const AREAS = ["sensors", "tune", "power", "display", "ports", "logging", "lights", "mixer"];
const SETTINGS = 4000;
/** From here on a setting stands in each of five profiles. */
const IN_PROFILES = 3750;
const keyOf = (i: number) => `part${i % 40}.value${i}`;

/** Two releases of one family between which every default moved: 5,000 values, no two alike. */
const FAMILY = [
  {
    document: "release",
    id: "wide-1",
    family: "Wide",
    version: "1",
    standing: "stable",
    builtOn: "2026-01-01",
    idiom: "statement",
    loaderWord: false,
    region: { format: "wide-1", stale: "refuse" },
    console: { inputBufferBytes: 256, lineCostUs: 100, baud: 115200 },
    profiles: [{ kind: "tune", title: "Tune", count: 5 }],
    targets: [{ id: "WIDE-A", processor: "Nettle 20", gyro: "Orrin 4", ports: [1], pads: { W1: "timer 1 channel 1" } }],
    settings: Array.from({ length: SETTINGS }, (_, i) => ({
      key: keyOf(i),
      title: `Value ${i}`,
      area: AREAS[i % AREAS.length],
      type: { number: { min: 0, max: 100_000, step: 1, unit: "Hz" } },
      default: i,
      says: "One of many.",
      ...(i >= IN_PROFILES ? { scope: "tune" } : {}),
    })),
    tables: [],
  },
  {
    document: "release",
    id: "wide-2",
    family: "Wide",
    version: "2",
    standing: "stable",
    builtOn: "2026-02-01",
    inherits: "wide-1",
    region: { format: "wide-2", stale: "refuse" },
    rules: [],
    change: Array.from({ length: SETTINGS }, (_, i) => ({ key: keyOf(i), default: i + 1 })),
  },
];
const [ONE, TWO] = ["defaults:wide-1@WIDE-A", "defaults:wide-2@WIDE-A"];

const nodes = (page: Page) => page.evaluate(() => document.querySelectorAll("*").length);

async function importFamily(page: Page): Promise<void> {
  for (const document of FAMILY) {
    const answer = await page.request.post("/api/documents", {
      data: Buffer.from(JSON.stringify(document)),
      headers: { "content-type": "application/octet-stream", origin: ORIGIN },
    });
    expect(answer.ok()).toBe(true);
  }
}

test("of 5,000 values only those in sight are drawn, and each can be reached", async ({ page }) => {
  await signIn(page, "lead");
  await importFamily(page);
  const views = {
    two: `/compare?left=${ONE}&right=${TWO}`,
    three: `/compare/three?base=${ONE}&mine=${TWO}&theirs=${ONE}`,
    changes: "/firmware/changes?from=wide-1&to=wide-2",
  };
  for (const [name, view] of Object.entries(views)) {
    await page.goto(view);
    await expect(page.getByRole("heading", { level: 1 })).toContainText(/5000|4000/);
    expect({ name, few: (await nodes(page)) < 4000 }).toEqual({ name, few: true });
    await expectAccessible(page);
  }
  await page.goto(views.two);
  const handling = page.getByRole("table", { name: "Handling" });
  const rows = Number(await handling.getAttribute("aria-rowcount"));
  expect(rows).toBeGreaterThan(500);
  await test.step("the last row of a long table comes into sight by scrolling", async () => {
    await expect
      .poll(
        async () => {
          await handling.evaluate((table) =>
            window.scrollTo(0, table.getBoundingClientRect().bottom + window.scrollY - 600),
          );
          return handling.getByRole("row").last().getAttribute("aria-rowindex");
        },
        { timeout: 15_000 },
      )
      .toBe(String(rows));
    expect(await nodes(page)).toBeLessThan(4000);
  });
  await test.step("a link to a row that is not drawn leads there", async () => {
    await page.evaluate((hash) => (window.location.hash = hash), encodeURIComponent(`system/${keyOf(3001)}`));
    await expect(page.getByRole("cell", { name: "Value 3001" })).toBeInViewport();
  });
  await test.step("a search leaves what has its words", async () => {
    await page.getByLabel("Search what differs").fill("value2718");
    await expect(page.getByRole("row")).toHaveCount(2);
    await expect(page.getByRole("cell", { name: "Value 2718" })).toBeVisible();
  });
});

test("a job by keys alone: N leads to what waits, and a press leaves the focus where the work is", async ({ page }) => {
  await signIn(page, "technician");
  await setPace(page, 8);
  const card = await beginUpdate(page, "QW-03", 6);
  const step = page.locator('[aria-current="step"]');
  await test.step("what began the job is gone, and the focus is with the step that is on", async () => {
    await expect.poll(() => page.evaluate(() => document.activeElement?.closest("main") !== null)).toBe(true);
    await page.keyboard.press("n");
    await expect(page.getByRole("link", { name: "Look at the plan and decide" })).toBeFocused();
    await page.keyboard.press("Enter");
    await page.waitForURL(/\/plan$/);
  });
  await test.step("N goes from decision to decision; a decision keeps the focus", async () => {
    await expect(page.locator("#silent")).toBeVisible();
    const focused = () =>
      page.evaluate(() => ({
        row: document.activeElement?.closest("tr")?.id,
        taken: document.activeElement?.getAttribute("aria-pressed"),
      }));
    await page.keyboard.press("n");
    await expect.poll(async () => (await focused()).taken).toBe("false");
    const first = await focused();
    await page.keyboard.press("Enter");
    await expect.poll(focused).toEqual({ row: first.row, taken: "true" });
    await page.keyboard.press("n");
    await expect.poll(async () => (await focused()).taken).toBe("false");
    expect((await focused()).row).not.toBe(first.row);
  });
  await test.step("on a telephone: each way out of a decision is in sight, and the active step comes first", async () => {
    await page.setViewportSize({ width: 420, height: 800 });
    const ways = page.locator('#silent tr [role="group"] button');
    await expect(ways.first()).toBeVisible();
    const right = await ways.evaluateAll((all) => Math.max(...all.map((each) => each.getBoundingClientRect().right)));
    expect(right).toBeLessThanOrEqual(420);
    expect(await page.locator("#silent table").evaluate(({ scrollWidth }) => scrollWidth)).toBeLessThanOrEqual(420);
    await expectAccessible(page);
    await page.goto(card);
    await expect(page.getByRole("region", { name: "Steps" }).getByRole("listitem").first()).toContainText(
      "Plan the carry-over",
    );
    await expect(step).toBeInViewport();
  });
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole("button", { name: "Stop this job" }).click();
  await expect(page.getByLabel("Why is it stopped?")).toBeFocused();
  await page.keyboard.type("It was only tried");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("stopped");
});
