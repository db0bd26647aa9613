import { foldJob, type JobState } from "@/core/job";
import type { Faults } from "@/core/sim";
import {
  cloneBoard,
  makeBoard,
  MemoryStore,
  rescueJob,
  reviveJob,
  runUntil,
  runUpdate,
  standsAt,
  updateJob,
} from "../support/workshop";
import { applicationSpace } from "@/core/image";

const stepOf = (state: JobState, id: string) => state.steps.find((step) => step.id === id);

describe("case C61: a board that is protected against reading", () => {
  it("an update says what that costs before anything is lost, asks by name, lifts it, and proves the whole afterwards", async () => {
    const start = await runUntil(standsAt("enter-loader"), ["put motor.rest 6.2"]);
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    board.faults = { ...board.faults, readProtected: true };
    const { store } = start;
    let touched = false;
    const application = board.flash.bytes.slice(applicationSpace(board.processor).start - board.flash.start);
    const end = await runUpdate(board, link, store, {
      onNeed: () => {
        // what is asked is asked while all of the firmware is still there
        if (standsAt("lift-protection")(foldJob(updateJob().steps, store.journal)))
          touched ||= Buffer.compare(board.flash.bytes.subarray(-application.length), application) !== 0;
        return false;
      },
    });
    expect([end, touched]).toEqual(["finished", false]);
    const state = foldJob(updateJob().steps, store.journal);
    expect(stepOf(state, "rescue")?.evidence).toMatch(
      /protected against reading.*read out by the console stands alone/,
    );
    expect(stepOf(state, "lift-protection")?.evidence).toMatch(
      /^All of its flash is erased, on the word of technician/,
    );
    expect(stepOf(state, "prove")?.evidence).toMatch(/^All \d+ values took/);
    expect([board.halfImageStarts, board.faults.readProtected]).toEqual([0, false]);
  });

  it("a revival with a backup on file gives up what only the board holds by somebody's word", async () => {
    const { board, link } = await makeBoard(["put motor.rest 6.2"]);
    const store = new MemoryStore();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    // a backup by an earlier job
    await runUpdate(board, link, store, { killWhen: standsAt("know-target") });
    const backup = store.backups.length;
    store.journal.length = 0;
    board.unplug(link.clock.nowUs());
    board.faults = { ...board.faults, readProtected: true };
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    const job = reviveJob(backup, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    expect(stepOf(state, "rescue")?.evidence).toContain("What only it holds is given up by technician");
    expect(stepOf(state, "lift-protection")?.status).toBe("done");
    expect(stepOf(state, "prove")?.evidence).toMatch(/^All \d+ values took/);
  });
});

it("case C61: a protected board of which nothing is on file is not asked to be given up: the job stops before anything is lost", async () => {
  const { board, link } = await makeBoard();
  board.faults = { ...board.faults, readProtected: true };
  board.plug(link.clock.nowUs(), { button: true });
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  const before = board.flash.bytes.slice();
  const store = new MemoryStore();
  await expect(runUpdate(board, link, store, { job: rescueJob("heddle-22") })).rejects.toThrow("rescue-none");
  expect(store.journal.some(({ entry }) => entry.kind === "confirmed" && entry.step === "rescue")).toBe(false);
  expect(Buffer.compare(board.flash.bytes, before)).toBe(0);
});

describe("a board with a fault that was switched on", () => {
  const flashing = async (faults: Partial<Faults>) => {
    const start = await runUntil(standsAt("flash"));
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    board.faults = { ...board.faults, ...faults };
    return { board, link, store: start.store };
  };

  it("a worn sector is found when it is read back, and the board is said not to fly again; nothing half starts", async () => {
    const { board, link, store } = await flashing({ wornSector: true });
    await expect(runUpdate(board, link, store)).rejects.toThrow("does not keep what is written to it");
    expect(board.halfImageStarts).toBe(0);
    // a board that is mended goes on from there
    board.faults = { ...board.faults, wornSector: false };
    await store.append({ kind: "again", step: "flash" }, "technician");
    expect(await runUpdate(board, link, store)).toBe("finished");
  });

  it("case C26: the power goes once in the middle of the flash; plugged in again, it goes on to the end", async () => {
    const { board, link, store } = await flashing({ powerCutAfterBytes: 98_304 });
    expect(await runUpdate(board, link, store)).toBe("finished");
    expect([board.faults.powerCutAfterBytes, board.halfImageStarts]).toEqual([0, 0]);
    expect(store.journal.some(({ entry }) => entry.kind === "noted" && entry.code === "link-lost")).toBe(true);
  });
});
