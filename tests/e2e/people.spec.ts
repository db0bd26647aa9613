import type { Browser } from "@playwright/test";
import os from "node:os";
import path from "node:path";
import { mkdtempSync, rmSync } from "node:fs";
import { Secret, TOTP } from "otpauth";
import { button, expectAccessible, picture, signInAtTheDoor } from "./app";
import { startProduct } from "../support/product";
import { passwordOf, ORIGIN, PORT, expect, test } from "./workshop";

const GOOD = "reed-heron-lantern-forty";

async function comeIn(browser: Browser, name: string, password: string) {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto("/sign-in");
  await page.getByLabel("Name").fill(name);
  await page.getByLabel("Password").fill(password);
  await button(page, "Sign in").click();
  return page;
}

test("a lead lets somebody in, who makes a password of their own; put out, they are out at once", async ({
  page,
  browser,
}) => {
  await signInAtTheDoor(page, "lead");
  await page.goto("/people");
  const add = page.getByRole("region", { name: "Add an account" });
  await add.getByLabel("Name to sign in with").fill("heron");
  await add.getByLabel("What they are called").fill("The heron of the east bank");
  await button(page, "Add the account").click();
  const made = (await add.getByRole("status").locator("b").innerText()).trim();
  await expectAccessible(page);

  const heron = await comeIn(browser, "heron", made);
  await expect(heron.getByRole("heading", { name: "A password of your own" })).toBeVisible();
  // nothing else is open before that
  await heron.goto("/bench/1");
  await expect(heron.getByRole("heading", { name: "A password of your own" })).toBeVisible();
  await heron.getByLabel("Password so far").fill(made);
  await heron.getByLabel("New password", { exact: true }).fill("heron-heron-1");
  await heron.getByLabel("New password once more").fill("heron-heron-1");
  await button(heron, "Change it").click();
  await expect(heron.getByRole("alert").filter({ hasText: "too easy to guess" })).toBeVisible();
  await heron.getByLabel("New password", { exact: true }).fill(GOOD);
  await heron.getByLabel("New password once more").fill(GOOD);
  await button(heron, "Change it").click();
  await expect(heron.getByRole("navigation", { name: "Bench" })).toBeVisible();
  await heron.goto("/people");
  await expect(heron.getByRole("heading", { level: 1 })).toHaveText("This page is for leads.");
  await expect(heron).toHaveURL("/people");

  // put out by the lead: the next thing they do leads to the door, and their stream is closed
  await page.goto("/people");
  const card = page.getByRole("region", { name: "heron", exact: true });
  await expect(card.getByText("Signed in:")).toBeVisible();
  await card.getByText("Change heron").click();
  await card.getByRole("button", { name: "Sign out everywhere" }).click();
  await expect(card.getByText("Not signed in.")).toBeVisible();
  expect((await heron.request.get("/api/find?q=x")).status()).toBe(401);
  // the page that lies open goes there by itself
  await expect(heron.getByRole("heading", { name: "Come in" })).toBeVisible();
  await card.getByRole("button", { name: "Close the account" }).click();
  await expect(card.getByText("Closed; nobody can sign in with it")).toBeVisible();
  const again = await comeIn(browser, "heron", GOOD);
  await expect(again.getByRole("alert").filter({ hasText: "Name or password is wrong" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("table", { name: "Sign-ins" }).or(page.locator("table")).first()).toContainText(
    "refused: the account is closed",
  );
});

test("one's own account: where one is signed in, and the last lead cannot go", async ({ page }) => {
  await signInAtTheDoor(page, "lead");
  await page.getByRole("button", { name: "lead", exact: true }).click();
  await page.getByRole("menuitem", { name: "Your account" }).click();
  await expect(page.getByText("127.0.0.1, this one")).toBeVisible();
  await expectAccessible(page);
  await page.goto("/people");
  const own = page.getByRole("region", { name: "lead", exact: true });
  await own.getByText("Change yourself").click();
  await own.getByRole("button", { name: "Close the account" }).click();
  await expect(own.getByRole("alert")).toContainText("This is the last lead of the workshop");
  // a password that would put one out before it was read is not given
  await expect(own.getByRole("button", { name: "Give a new password" })).toHaveCount(0);
});

test("a code beside the password: set up, asked for, taken away", async ({ page }) => {
  await signInAtTheDoor(page, "observer");
  await page.goto("/me");
  const second = page.getByRole("region", { name: "Second factor" });
  await second.getByRole("button", { name: "Set one up" }).click();
  const key = await second.locator(".key").innerText();
  /** Each counts once: the one before now, that of now, the next. */
  const code = (steps: number) =>
    new TOTP({ secret: Secret.fromBase32(key) }).generate({ timestamp: Date.now() + steps * 30_000 });
  // the code before now is one too old as soon as a new step begins: not at a step's very end
  await expect.poll(() => Date.now() % 30_000, { timeout: 20_000, intervals: [500] }).toBeLessThan(18_000);
  await second.getByLabel("The code that it shows").fill(code(-1));
  await second.getByRole("button", { name: "Use it from now on" }).click();
  await expect(second.getByLabel("A code, to take it away")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "observer", exact: true }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await page.getByLabel("Name").fill("observer");
  await page.getByLabel("Password").fill(passwordOf("observer"));
  await button(page, "Sign in").click();
  await page.getByLabel("Code").fill(code(0));
  await button(page, "Sign in").click();
  await expect(page.getByRole("navigation", { name: "Bench" })).toBeVisible();
  await page.goto("/me");
  await second.getByLabel("A code, to take it away").fill(code(1));
  await second.getByRole("button", { name: "Remove second factor" }).click();
  await expect(second.getByRole("button", { name: "Set one up" })).toBeVisible();
});

test("eight tabs of a browser share one stream, and each of them is told", async ({ page, context }) => {
  await signInAtTheDoor(page, "technician");
  const tabs = [];
  for (let i = 0; i < 8; i++) {
    const tab = await context.newPage();
    await tab.goto("/bench/6");
    await expect(tab.getByRole("navigation", { name: "Bench" })).toBeVisible();
    tabs.push(tab);
  }
  // what a bay does comes to all of them
  const answer = await page.request.post("/api/bench/1", {
    data: { kind: "clock", factor: 20 },
    headers: { origin: ORIGIN },
  });
  expect(answer.ok()).toBe(true);
  for (const tab of tabs) await expect(tab.getByText("The bench is not running")).toHaveCount(0);
  // the server does not open more for one session than it has to
  const streams = await Promise.all(
    Array.from({ length: 12 }, () =>
      page.evaluate(() => fetch("/api/events", { signal: AbortSignal.timeout(4000) }).then((r) => r.status)),
    ),
  );
  expect(streams.filter((status) => status === 429).length).toBeGreaterThanOrEqual(8);
  const head = await page.request.fetch("/api/events", { method: "HEAD" });
  expect([head.status(), (await head.body()).length]).toEqual([200, 0]);
  for (const tab of tabs) await tab.close();
});

test("the lead sees that copies are made and that the record is whole", async ({ page }) => {
  await signInAtTheDoor(page, "lead");
  await page.goto("/keeping");
  const copies = page.getByRole("region", { name: "Copies" });
  await copies.getByRole("button", { name: "Make a copy now" }).click();
  await expect(async () => {
    await page.reload();
    await expect(copies.getByText("read back whole")).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await page.getByRole("button", { name: "Look at everything now" }).click();
  await expect(
    page
      .getByRole("region", { name: "The record" })
      .getByText(/\d+ seals/)
      .first(),
  ).toBeVisible();
  await expect(
    page.getByRole("heading", { name: /The last copy is from just now; the record is whole/ }),
  ).toBeVisible();
  await expectAccessible(page);
  await picture(page, "keeping");
});

test("a workshop without anybody: the first lead is made by whoever has the code", async ({ browser }) => {
  const data = mkdtempSync(path.join(os.tmpdir(), "fresh-start-first-"));
  const port = PORT + 1;
  const product = await startProduct({
    database: "fresh_start_e2e_first",
    data,
    port,
    words: ["--empty"],
    env: { SECOND_FACTOR: "leads" },
  });
  try {
    const link = /http:\S+\/first\?code=\S+/.exec(product.said())?.[0] ?? "";
    const page = await (await browser.newContext({ baseURL: `http://127.0.0.1:${port}` })).newPage();
    await page.goto("/jobs");
    await expect(page.getByRole("heading", { name: "A new workshop" })).toBeVisible();
    const fill = async (code: string) => {
      await page.getByLabel("Code").fill(code);
      await page.getByLabel("Name to sign in with").fill("bittern");
      await page.getByLabel("What you are called").fill("The bittern");
      await page.getByLabel("Password").fill(GOOD);
      await button(page, "Open the workshop").click();
    };
    await fill("guessed");
    await expect(page.getByRole("alert").filter({ hasText: "not the code" })).toBeVisible();
    await page.goto(link);
    await expectAccessible(page);
    await fill(new URL(link).searchParams.get("code") ?? "");
    // this workshop asks its leads for a second factor: nothing else opens before
    await expect(page.getByRole("heading", { name: "A second factor" })).toBeVisible();
    await page.goto("/people");
    await expect(page.getByRole("heading", { name: "A second factor" })).toBeVisible();
    const shut = await page.request.get("/api/bench/1/releases");
    expect(await shut.text()).toContain("second-missing");
    await expectAccessible(page);
    await button(page, "Set one up").click();
    const key = await page.locator(".key").innerText();
    await page.getByLabel("The code that it shows").fill(new TOTP({ secret: Secret.fromBase32(key) }).generate());
    await button(page, "Use it from now on").click();
    await expect(page.getByRole("navigation", { name: "Bench" })).toBeVisible();
    await page.goto("/people");
    await expect(page.getByRole("heading", { name: "One may come in, one is in." })).toBeVisible();
    const second = await (await browser.newContext({ baseURL: `http://127.0.0.1:${port}` })).newPage();
    await second.goto(link);
    await expect(second.getByRole("heading", { name: "Come in" })).toBeVisible();
  } finally {
    await product.stop();
    rmSync(data, { recursive: true });
  }
});
