import { ask, askCommand, keepSettings } from "@/core/console";
import { addressId, type Configuration } from "@/core/config";
import { foldJob } from "@/core/job";
import { valueOf } from "@/core/problem";
import { asPlanned, type Proof } from "@/core/carryover";
import type { BoardLink } from "@/bench/link";
import {
  imageFile,
  makeBoard,
  MemoryStore,
  runUpdate,
  setUpJob,
  standsAt,
  statementIdiom,
  foundIn,
} from "../support/workshop";

const idiom = statementIdiom();
const readOut = async (link: BoardLink) => valueOf(await askCommand(link.console, idiom, "recite")).raw;
const valueAt = (configuration: Configuration, id: string) =>
  configuration.settings.find((entry) => addressId(entry) === id)?.value;

/** A board of the aircraft, a backup of how it was, and what somebody did to it since. */
async function changedSince() {
  const { board, link } = await makeBoard(["use tune 2", "put roll.push 61", "use tune 1", "put motor.rest 6.5"]);
  const store = new MemoryStore();
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  valueOf(await ask(link.console, "hush", idiom, 2000));
  const { id } = await store.fileBackup(await readOut(link));
  for (const line of ["use tune 2", "put roll.push 20", "use tune 3", "put craft.note meddled"])
    valueOf(await ask(link.console, line, idiom, 2000));
  valueOf(await keepSettings(link.console, idiom));
  return { board, link, store, id };
}

describe("back to an earlier backup", () => {
  it("case C48: the settings come back as they were, proved; the firmware is not touched", async () => {
    const { board, link, store, id } = await changedSince();
    const firmware = imageFile("heddle-22", "CSLATE-B");
    expect(Buffer.from(board.flash.bytes).indexOf(firmware)).toBeGreaterThan(0);
    const job = setUpJob(id, "heddle-22");
    expect(job.steps.map((action) => action.id)).not.toEqual(expect.arrayContaining(["enter-loader", "flash"]));
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(Buffer.from(board.flash.bytes).indexOf(firmware)).toBeGreaterThan(0);
    const data = foundIn(foldJob(job.steps, store.journal));
    // what was on the board is filed before anything is wiped
    const before = await store.recitalOf(data.backupId ?? 0);
    expect(valueAt(before.configuration, "system/craft.note")).toBe("meddled");
    const after = await store.recitalOf(data.readBackId ?? 0);
    expect(valueAt(after.configuration, "tune 2/roll.push")).toBe(61);
    expect(valueAt(after.configuration, "system/motor.rest")).toBe(6.5);
    expect(valueAt(after.configuration, "system/craft.note")).toBe("");
    // case C49: the profile that was in use is in use again
    expect(after.configuration.active.tune).toBe(1);
    const proof = (await store.getJson(data.proofSha ?? "")) as Proof;
    expect(asPlanned(proof)).toBe(true);
  });

  it("killed while the values go over, it begins them again and ends the same", async () => {
    const { board, link, store, id } = await changedSince();
    const job = setUpJob(id, "heddle-22");
    let lines = 0;
    const killWhen = (state: Parameters<ReturnType<typeof standsAt>>[0]) => standsAt("restore")(state) && ++lines > 40;
    expect(await runUpdate(board, link, store, { job, killWhen })).toBe("let-go");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const data = foundIn(foldJob(job.steps, store.journal));
    const after = await store.recitalOf(data.readBackId ?? 0);
    expect(valueAt(after.configuration, "tune 2/roll.push")).toBe(61);
  });

  it("a board that runs another release than when it was ordered is not touched", async () => {
    const { board, link, store, id } = await changedSince();
    const before = Buffer.from(board.flash.bytes);
    await expect(runUpdate(board, link, store, { job: setUpJob(id, "heddle-23") })).rejects.toThrow("release-other");
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
  });
});
