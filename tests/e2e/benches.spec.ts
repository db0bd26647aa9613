import { cpSync, mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { startProduct } from "../support/product";
import { button, choose, expectAccessible, optionsOf, setPace, signIn } from "./app";
import { DATABASE, DATA_FOLDER, PORT, expect, test } from "./workshop";

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
