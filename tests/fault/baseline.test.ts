import { ask, askCommand, keepSettings } from "@/core/console";
import { addressId, type Configuration } from "@/core/config";
import { foldJob } from "@/core/job";
import { valueOf } from "@/core/problem";
import { asPlanned, type Proof } from "@/core/carryover";
import {
  baselineJob,
  imageFile,
  makeBoard,
  MemoryStore,
  runUpdate,
  standsAt,
  statementIdiom,
  foundIn,
} from "../support/workshop";

const idiom = statementIdiom();
const valueAt = (configuration: Configuration, id: string) =>
  configuration.settings.find((entry) => addressId(entry) === id)?.value;
const rowAt = (configuration: Configuration, table: string, key: string) =>
  configuration.rows.find((row) => row.table === table && row.key === key)?.cells;

const MEDDLED = [
  "use tune 1",
  "put roll.push 20",
  "put loop.rate 9",
  "put gyro.zero.x 0.42",
  "put craft.label Heron",
  "row ports 3 use=receiver",
  "put return.height 77",
];

/** A board on which somebody clicked about, and a standard that was read out before. */
async function meddledWith() {
  const { board, link } = await makeBoard(["use tune 1", "put roll.push 61", "put return.height 40"]);
  const store = new MemoryStore();
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  valueOf(await ask(link.console, "hush", idiom, 2000));
  const { id: standard } = await store.fileBackup(valueOf(await askCommand(link.console, idiom, "recite")).raw);
  for (const line of MEDDLED) {
    const answer = valueOf(await ask(link.console, line, idiom, 2000));
    if (answer.answer !== "accepted") throw new Error(`${line}: ${answer.text ?? answer.answer}`);
  }
  valueOf(await keepSettings(link.console, idiom));
  return { board, link, store, standard };
}

async function after(store: MemoryStore, job: ReturnType<typeof baselineJob>): Promise<Configuration> {
  const data = foundIn(foldJob(job.steps, store.journal));
  expect(asPlanned((await store.getJson(data.proofSha ?? "")) as Proof)).toBe(true);
  return (await store.recitalOf(data.readBackId ?? 0)).configuration;
}

describe("back to a baseline", () => {
  it("to the standard: what is the type's goes back, what is the board's own stays; the firmware is not touched", async () => {
    const { board, link, store, standard } = await meddledWith();
    const job = baselineJob({ runs: { main: "heddle-22" }, backupId: standard, parts: { navigation: "board" } });
    expect(job.steps.map(({ id }) => id)).not.toEqual(expect.arrayContaining(["flash"]));
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const now = await after(store, job);
    expect(valueAt(now, "tune 1/roll.push")).toBe(61);
    expect(valueAt(now, "system/loop.rate")).not.toBe(9);
    // its own: calibration, name, wiring
    expect(valueAt(now, "system/gyro.zero.x")).toBe(0.42);
    expect(valueAt(now, "system/craft.label")).toBe("Heron");
    expect(rowAt(now, "ports", "3")).toMatchObject({ use: "receiver" });
    // an area that somebody wanted to stay
    expect(valueAt(now, "system/return.height")).toBe(77);
    expect(Buffer.from(board.flash.bytes).indexOf(imageFile("heddle-22", "CSLATE-B"))).toBeGreaterThan(0);
    // what was on it before is filed
    const data = foundIn(foldJob(job.steps, store.journal));
    const before = (await store.recitalOf(data.backupId ?? 0)).configuration;
    expect(valueAt(before, "tune 1/roll.push")).toBe(20);
  });

  it("a receiver that stands elsewhere than in the standard is asked about: wires may have moved, or somebody clicked about", async () => {
    const { board, link, store, standard } = await meddledWith();
    const job = baselineJob({ runs: { main: "heddle-22" }, backupId: standard, parts: {} });
    const prefer = { "row ports/3": "as-baseline" };
    expect(await runUpdate(board, link, store, { job, prefer })).toBe("finished");
    const now = await after(store, job);
    expect(rowAt(now, "ports", "3")?.use).not.toBe("receiver");
    expect(rowAt(now, "ports", "2")).toMatchObject({ use: "receiver" });
  });

  it("case C29: to the defaults with a starter set, whose values are in the plan and come after the wipe; the radio's port chosen anew", async () => {
    const { board, link, store } = await meddledWith();
    const job = baselineJob({ runs: { main: "heddle-22" }, starter: "sedge-7", parts: { ports: "baseline" } });
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const now = await after(store, job);
    expect(valueAt(now, "tune 1/roll.push")).toBe(52);
    expect(rowAt(now, "ports", "3")?.use).not.toBe("receiver");
    expect(valueAt(now, "system/gyro.zero.x")).toBe(0.42);
    expect(valueAt(now, "system/return.height")).not.toBe(77);
  });

  it("a starter set that the release does not have stops the job before anything is erased", async () => {
    const { board, link, store } = await meddledWith();
    const before = Buffer.from(board.flash.bytes);
    const job = baselineJob({ runs: { main: "heddle-22" }, starter: "none-such", parts: {} });
    await expect(runUpdate(board, link, store, { job })).rejects.toThrow("starter-none");
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
  });

  it("killed while the values go over, it begins them again and ends the same", async () => {
    const { board, link, store, standard } = await meddledWith();
    const job = baselineJob({ runs: { main: "heddle-22" }, backupId: standard, parts: {} });
    let lines = 0;
    const killWhen = (state: Parameters<ReturnType<typeof standsAt>>[0]) => standsAt("restore")(state) && ++lines > 40;
    expect(await runUpdate(board, link, store, { job, killWhen })).toBe("let-go");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(valueAt(await after(store, job), "tune 1/roll.push")).toBe(61);
  });
});
