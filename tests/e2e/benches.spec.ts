import { type ChildProcess, spawn } from "node:child_process";
import { cpSync, mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { startProduct } from "../support/product";
import { button, choose, emptyBay, expectAccessible, optionsOf, setPace, signIn } from "./app";
import { DATABASE, DATA_FOLDER, PORT, expect, test } from "./workshop";

let board: ChildProcess | undefined;
const hand = (words: string) => board?.stdin?.write(`${words}\n`);

test.afterAll(async () => {
  if (!board) return;
  const ended = new Promise((resolve) => board?.once("exit", resolve));
  hand("quit");
  await ended;
});

test("a bay becomes a serial port of the machine: a board on it is known, backed up, missed and found again", async ({
  page,
}) => {
  board = spawn("bin/board", ["new-2", "--pace", "4"], {
    env: { ...process.env, FRESH_START_DATA: DATA_FOLDER },
    stdio: ["pipe", "ignore", "inherit"],
  });
  await signIn(page, "technician");
  await emptyBay(page);
  const socket = page.getByRole("region", { name: "Socket" });
  const use = socket.getByRole("button", { name: "Use new-2" });
  // whoever looks again sees what was plugged in meanwhile
  await expect(async () => {
    await socket.getByRole("button", { name: "Look again" }).click();
    await expect(use).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 20_000 });
  await use.click();
  const heading = page.getByRole("heading", { level: 1 });
  await expect(heading).toHaveText("Answers, Bobbin 40. Whose is it?", { timeout: 20_000 });
  await expect(page.getByRole("region", { name: "Your hands" })).toHaveCount(0);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Back it up now" }).click();
  await expect(page.getByRole("status").filter({ hasText: "Filed as" })).toContainText("Bobbin 40", {
    timeout: 20_000,
  });
  hand("unplug");
  await expect(heading).toHaveText("Nothing is plugged in: the machine has no such port now");
  await expect(page.getByRole("list", { name: "Likely causes" })).toContainText("The cable is out");
  await expectAccessible(page);
  hand("plug pads");
  await expect(page.getByRole("region", { name: "What is known" })).toContainText("a serial loader", {
    timeout: 20_000,
  });
  await socket.getByRole("button", { name: "Let go of this port" }).click();
  await expect(heading).toHaveText("Empty");
  await expect(page.getByRole("region", { name: "Your hands" })).toBeVisible();
});

test("a second machine has a bench of its own; each shows both, and a job runs where its board lies", async ({
  page,
  browser,
}) => {
  const data = mkdtempSync(path.join(os.tmpdir(), "fresh-start-tent-"));
  cpSync(path.join(DATA_FOLDER, "session.secret"), path.join(data, "session.secret"));
  const port = PORT + 2;
  const tent = await startProduct({
    database: DATABASE,
    again: true,
    data,
    port,
    words: ["--bench", "Field tent"],
  });
  try {
    await signIn(page, "technician");
    await setPace(page, 40);
    // from the first machine's pages onto the second one's bench
    await page.goto("/bench/8");
    const bench = page.getByRole("navigation", { name: "Bench" });
    await expect(bench.getByRole("combobox", { name: "Which bench" })).toHaveText("Field tent");
    await expect(bench.getByRole("link", { name: /^Bay (7|8|9|10|11|12):/ })).toHaveCount(6);
    const shelf = page.getByLabel("Board", { exact: true });
    await choose(shelf, /QW-16/);
    await button(page, "Put it into bay 8").click();
    await button(page, "Plug the cable in").click();
    await expect(page.getByRole("heading", { name: "Answers, Sley 3" })).toBeVisible({ timeout: 20_000 });
    await button(page, "Back it up now").click();
    await expect(page.getByRole("link", { name: /^QW-16 Sley 3/ })).toBeVisible({ timeout: 30_000 });
    await expectAccessible(page);
    await (await optionsOf(bench.getByRole("combobox", { name: "Which bench" }))).first().click();
    await expect(bench.getByRole("link", { name: /^Bay [1-6]:/ })).toHaveCount(6);

    // who comes by the second machine sees the same workshop
    const there = await (await browser.newContext({ baseURL: `http://127.0.0.1:${port}` })).newPage();
    await signIn(there, "technician");
    await there.goto("/bench/8");
    await expect(there.getByRole("heading", { name: "Answers, Sley 3" })).toBeVisible({ timeout: 20_000 });
    await button(there, "Take the board out of the bay").click();
    await expect(button(there, "Put it into bay 8")).toBeVisible();
  } finally {
    await tent.stop();
    rmSync(data, { recursive: true });
  }
  // its machine is gone: that is said by name, and the first one goes on
  await page.goto("/bench/1");
  await expect(page.getByText("Not running: Field tent.")).toBeVisible({ timeout: 20_000 });
});
