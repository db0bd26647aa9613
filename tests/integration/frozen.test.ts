import { spawn } from "node:child_process";
import path from "node:path";
import { serverProblem } from "@/server/away";
import { actAs, closeDb } from "@/server/db";
import { addAircraft } from "@/server/repositories/fleet";
import { inTransaction, one, run } from "@/server/sql";
import { freshDatabase } from "../support/database";

beforeAll(async () => {
  await freshDatabase("frozen");
  await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  await closeDb();
  // from here on this process is as the web is
  actAs("web");
}, 120_000);
afterAll(closeDb);

/** A process that holds the row of QW-01 and is frozen; it ends with 9 where its transaction did not come through. */
async function frozen(part: "bench" | "web") {
  const child = spawn(process.execPath, ["--import", "tsx", path.resolve("tests/support/freezes.ts"), part], {
    env: process.env,
    stdio: ["ignore", "pipe", "inherit"],
  });
  await new Promise((resolve) => child.stdout.once("data", resolve));
  return {
    thaw: () =>
      new Promise<number | null>((resolve) => {
        child.once("exit", resolve);
        child.kill("SIGCONT");
      }),
  };
}
const label = async () => (await one<{ label: string }>("select label from aircraft where tag = 'QW-01'"))?.label;
const rename = (to: string) => run("update aircraft set label = $1 where tag = 'QW-01'", [to]);

describe("case C92: a process that is frozen in the middle of a transaction", () => {
  it.each(["bench", "web"] as const)(
    "%s: keeps nobody from reading, is told as what it is to who wants the same, and is let go of",
    async (part) => {
      const held = await frozen(part);
      expect(await label()).not.toBe("frozen");
      const began = Date.now();
      const answers: string[] = [];
      // whoever wants the row is told within the limits, and gets it when they try again
      while (Date.now() - began < 40_000) {
        const end = await rename(`by ${part}`).then(
          () => "done",
          (error: unknown) => serverProblem(error).code,
        );
        answers.push(end);
        if (end === "done") break;
      }
      expect([answers.at(-1), answers.slice(0, -1).every((code) => code === "database-busy")]).toEqual(["done", true]);
      expect(Date.now() - began).toBeLessThan(25_000);
      expect(await label()).toBe(`by ${part}`);
      // what it had begun is not done late
      expect(await held.thaw()).toBe(9);
      expect(await label()).toBe(`by ${part}`);
    },
    60_000,
  );

  it("however many want what it holds, nobody who only reads waits for them", async () => {
    const held = await frozen("bench");
    // more than there are connections
    const waiting = Array.from({ length: 40 }, (_, i) => rename(`at once ${i}`).catch(() => undefined));
    try {
      await new Promise((resolve) => setTimeout(resolve, 500));
      const waits: number[] = [];
      for (let i = 0; i < 20; i++) {
        const began = performance.now();
        await label();
        waits.push(performance.now() - began);
      }
      // they were still waiting meanwhile, for as long as the limits let them
      const open = await one<{ n: number }>(
        "select count(*)::int as n from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'",
      );
      expect(open?.n).toBeGreaterThan(2);
      expect(Math.max(...waits)).toBeLessThan(3_000);
    } finally {
      await held.thaw();
    }
    await Promise.all(waiting);
  }, 90_000);

  it("two who wait for each other are told, and neither hangs", async () => {
    await addAircraft({ tag: "QW-02", label: "", type: "Sedge" });
    const cross = (first: string, second: string) =>
      inTransaction(async (transaction) => {
        await run("update aircraft set label = 'x' where tag = $1", [first], transaction);
        await new Promise((resolve) => setTimeout(resolve, 300));
        await run("update aircraft set label = 'x' where tag = $1", [second], transaction);
      }).then(
        () => "done",
        (error: unknown) => serverProblem(error).code,
      );
    const ends = await Promise.all([cross("QW-01", "QW-02"), cross("QW-02", "QW-01")]);
    expect(ends.toSorted()).toEqual(["database-busy", "done"]);
  });
});
