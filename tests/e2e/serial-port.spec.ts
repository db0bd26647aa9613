import { spawn, type ChildProcess } from "node:child_process";
import { emptyBay, expectAccessible, signIn } from "./app";
import { DATA_FOLDER, expect, test } from "./workshop";

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
