import type { BoardLink } from "@/bench/link";
import { declareBoard } from "@/bench/steps/context";
import type { JobOrder } from "@/bench/store";
import { readSenses } from "@/core/checks";
import { askCommand } from "@/core/console";
import { valueOf } from "@/core/problem";
import { currentStep, foldJob } from "@/core/job";
import { afflict, type Ailment, type SimBoard } from "@/core/sim";
import type { Plan } from "@/core/carryover";
import { chipFromLoader, isWholeChip, sameChip, settingsSegment } from "@/core/catalog";
import {
  catalogue,
  CHIP,
  cloneBoard,
  commissionJob,
  imageFile,
  makeBoard,
  MemoryStore,
  rescueJob,
  reviveJob,
  runUpdate,
  updateJob,
  foundIn,
} from "../support/workshop";

const MOVED = ["put motor.rest 6.2", "use tune 2", "put roll.push 44"];

/** A board that was backed up, and whose firmware was half written by another tool since: it shows only its loader. */
async function halfWritten(
  ailment: Ailment = "disarmed",
): Promise<{ board: SimBoard; link: BoardLink; store: MemoryStore }> {
  const { board, link } = await makeBoard(MOVED);
  const store = new MemoryStore();
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
  await runUpdate(board, link, store, { killWhen: (state) => currentStep(state)?.id === "know-target" });
  store.journal.length = 0;
  board.unplug(link.clock.nowUs());
  afflict(board, ailment);
  board.plug(link.clock.nowUs());
  await link.clock.waitUntil(link.clock.nowUs() + 3_000_000);
  return { board, link, store };
}

const settings = (board: SimBoard) =>
  board.mode.kind === "console" ? Object.fromEntries(board.mode.app.values) : { mode: board.mode.kind };

describe("case C46: a board that shows only its loader", () => {
  it("is known by it, rescued, written, set up from its last backup, proved and signed off", async () => {
    const { board, link, store } = await halfWritten();
    expect(link.presence().kind).toBe("loader");
    const job = reviveJob(1, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    const [steps, data] = [state.steps, foundIn(state)];
    expect(steps.map(({ id, status }) => [id, status])).toEqual(job.steps.map(({ id }) => [id, "done"]));
    expect(store.rescues).toHaveLength(1);
    expect(data.proved).toMatch(/^All \d+ values took/);
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
  });

  it("half an image of another tool starts and says nothing: by its boot button the loader is reached", async () => {
    const { board, link, store } = await halfWritten("half-image");
    expect([link.presence().kind, board.mode.kind]).toEqual(["none", "dead"]);
    board.unplug(link.clock.nowUs());
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 3_000_000);
    expect(await runUpdate(board, link, store, { job: reviveJob(1, "heddle-22") })).toBe("finished");
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
  });

  it("goes on to another release just as well", async () => {
    const { board, link, store } = await halfWritten();
    expect(await runUpdate(board, link, store, { job: reviveJob(1, "heddle-23") })).toBe("finished");
    expect(board.mode.kind === "console" && board.mode.app.release.id).toBe("heddle-23");
  });

  it("if it speaks after all, it is read out first: the steps are planned anew, and the record says why", async () => {
    const { board, link } = await makeBoard(MOVED);
    const store = new MemoryStore();
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    await runUpdate(board, link, store, { killWhen: (state) => currentStep(state)?.id === "know-target" });
    store.journal.length = 0;
    const job = reviveJob(1, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const planned = store.journal.map(({ entry }) => entry).filter((entry) => entry.kind === "planned");
    expect(planned).toEqual([
      expect.objectContaining({ kind: "planned", because: "the board does not show its loader" }) as unknown,
    ]);
    const { steps, struck } = foldJob(job.steps, store.journal);
    expect(steps.slice(0, 2).map(({ id }) => id)).toEqual(["know-board", "back-up"]);
    expect(struck.map(({ id }) => id)).toEqual(["know-loader"]);
    expect(store.backups.length).toBeGreaterThan(1);
  });

  it("another board's loader is never written to", async () => {
    const { board, link, store } = await halfWritten();
    const job = { ...reviveJob(1, "heddle-22"), chipId: "0000-1111-2222" };
    await expect(runUpdate(board, link, store, { job })).rejects.toThrow("board-other");
    expect(store.rescues).toEqual([]);
  });

  it.each(["know-loader", "rescue", "flash", "first-start", "restore", "prove"])(
    "killed at %s and taken up again, it ends the same",
    async (at) => {
      const { board, link, store } = await halfWritten();
      const job = reviveJob(1, "heddle-22");
      await runUpdate(board, link, store, { job, killWhen: (state) => currentStep(state)?.id === at });
      const copy = cloneBoard(board, link.clock.nowUs());
      expect(await runUpdate(copy.board, copy.link, store, { job })).toBe("finished");
      expect(settings(copy.board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
    },
  );

  it("an update that was ordered while it spoke asks for it to be plugged in without its button, and goes on then", async () => {
    const { board, link } = await makeBoard(MOVED);
    const store = new MemoryStore();
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(link.presence().kind).toBe("loader");
    expect(await runUpdate(board, link, store, { job: updateJob() })).toBe("finished");
    const needs = store.journal.flatMap(({ entry }) => (entry.kind === "waits" ? [entry.need.say] : []));
    expect(needs[0]).toBe("The board shows only its loader.");
  });
});

describe("settings that only the board itself still holds", () => {
  it("case C47: without a backup the region is rescued, read by its release's format, filed, and restored", async () => {
    const { board, link } = await halfWritten();
    const store = new MemoryStore();
    const job = rescueJob("heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const state = foldJob(job.steps, store.journal);
    const [steps, data] = [state.steps, foundIn(state)];
    expect(steps.map(({ id }) => id)).toContain("decode-rescue");
    expect(steps.find(({ id }) => id === "decode-rescue")?.evidence).toMatch(
      /^\d+ values and \d+ rows of Heddle 22, held against their check; filed as a backup rescued through the loader, judged complete\.$/,
    );
    expect(data.proved).toMatch(/^All \d+ values took/);
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
    // the decode comes before anything is written
    const order = steps.map(({ id }) => id);
    expect(order.indexOf("decode-rescue")).toBeLessThan(order.indexOf("flash"));
  });

  it("case C62: a region that another release wrote is known by its mark, and carried over from there", async () => {
    const { board, link } = await halfWritten();
    const store = new MemoryStore();
    expect(await runUpdate(board, link, store, { job: rescueJob("heddle-23") })).toBe("finished");
    expect(board.mode.kind === "console" && board.mode.app.release.id).toBe("heddle-23");
    expect(settings(board)).toMatchObject({ "tune 2/roll.push": 44 });
  });

  it("a region that is damaged is no ground for settings: the job stops by name before anything is written", async () => {
    const { board, link } = await halfWritten();
    const { start } = settingsSegment(board.processor);
    board.flash.bytes[start - board.flash.start + 400] = 0;
    const before = board.flash.bytes.slice();
    const store = new MemoryStore();
    await expect(runUpdate(board, link, store, { job: rescueJob("heddle-22") })).rejects.toThrow();
    expect(Buffer.compare(board.flash.bytes, before)).toBe(0);
  });

  it("case C44: settings that restart the board for ever are read out first, then cleared, then restored from the backup", async () => {
    const { board, link, store } = await halfWritten("looping");
    expect(board.mode.kind).toBe("looping");
    // it shows itself for moments, again and again
    const shown = new Set<string>();
    for (let i = 0; i < 150; i++) {
      const presence = link.presence();
      if (presence.kind === "console") shown.add(presence.port);
      await link.clock.waitUntil(link.clock.nowUs() + 100_000);
    }
    expect(shown.size).toBeGreaterThan(3);
    board.unplug(link.clock.nowUs());
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    const job = reviveJob(1, "heddle-22");
    expect(job.steps.map(({ id }) => id)).not.toContain("clear-settings");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    // planned anew when the region turned out damaged
    const planned = store.journal.flatMap(({ entry }) => (entry.kind === "planned" ? [entry] : []));
    expect(planned.map(({ because }) => because)).toEqual(["its settings region is damaged"]);
    const state = foldJob(job.steps, store.journal);
    const [steps, data] = [state.steps, foundIn(state)];
    const order = steps.map(({ id }) => id);
    expect(order.indexOf("rescue")).toBeLessThan(order.indexOf("clear-settings"));
    expect(store.rescues).toHaveLength(1);
    expect(data.proved).toMatch(/^All \d+ values took/);
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
  });
});

describe("other loaders than the one on USB", () => {
  it("case C45: nothing left but ROM: over the serial adapter the board is known, written, and set up again", async () => {
    const { board, link, store } = await halfWritten("emptied");
    expect([link.presence().kind, board.mode.kind]).toEqual(["none", "dead"]);
    board.unplug(link.clock.nowUs());
    board.adapter = true;
    board.plug(link.clock.nowUs(), { pads: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    expect(link.presence()).toMatchObject({ kind: "loader", transport: "serial" });
    const job = reviveJob(1, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { steps } = foldJob(job.steps, store.journal);
    expect(steps.find(({ id }) => id === "know-loader")?.evidence).toContain("Its serial loader on port");
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
  });
});

describe("a board that was never set up", () => {
  /** A blank board of another processor, of which the loader shows only a part of the chip id. */
  async function blank() {
    const { store } = await halfWritten();
    store.modelId = "tamsin-reed-b";
    const { board, link } = await makeBoard([], "tamsin-reed-b");
    afflict(board, "emptied");
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    const presence = link.presence();
    if (presence.kind !== "loader" || presence.transport !== "usb") throw new Error(presence.kind);
    return { board, link, store, chipId: chipFromLoader(presence.serial, board.processor) };
  }

  it("becomes an aircraft of its type: written, set up as another one without what belongs to that board, and its chip id learnt", async () => {
    const { board, link, store, chipId } = await blank();
    expect(chipId).toBe("4A17-?-91FE");
    expect([isWholeChip(chipId), sameChip(CHIP, chipId), sameChip("4A17-0C22-91FF", chipId)]).toEqual([
      false,
      true,
      false,
    ]);
    const job = { ...commissionJob("heddle-22", 1), chipId };
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(store.chipIds).toEqual([CHIP]);
    const state = foldJob(job.steps, store.journal);
    const [steps, data] = [state.steps, foundIn(state)];
    expect(data.proved).toMatch(/took/);
    expect(steps.map(({ id }) => id)).not.toContain("back-up");
    expect(settings(board)).toMatchObject({ "system/motor.rest": 6.2, "tune 2/roll.push": 44 });
    // calibration of the board that it was taken from stays with that board
    const plan = (await store.getJson(data.planSha ?? "")) as Plan;
    const left = plan.items.filter(({ outcome }) => outcome === "left-out").map(({ id }) => id);
    expect(left).toEqual(expect.arrayContaining(["system/gyro.zero.x", "system/craft.label"]));
  });

  it("without anything of its type on file it is set up on the release's own defaults", async () => {
    const { board, link, store, chipId } = await blank();
    const job = { ...commissionJob("heddle-23"), chipId };
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(board.mode.kind === "console" && board.mode.app.release.id).toBe("heddle-23");
  });

  it("another board than the one whose loader was seen is not touched", async () => {
    const { board, link, store } = await blank();
    const job = { ...commissionJob("heddle-22", 1), chipId: "4A17-?-0000" };
    const before = board.flash.bytes.slice();
    await expect(runUpdate(board, link, store, { job })).rejects.toThrow("board-other");
    expect(Buffer.compare(board.flash.bytes, before)).toBe(0);
  });
});

describe("firmware of another target on a right processor", () => {
  const asModelJob = (asModel: boolean): JobOrder => ({
    ...updateJob("heddle-22"),
    goal: { kind: "update", runs: { main: "heddle-22" }, ...(asModel ? { asModel } : {}) },
  });
  const wrongTarget = async () => {
    const { board, link } = await makeBoard([], "tamsin-reed-a");
    afflict(board, "disarmed");
    board.manufacture(imageFile("heddle-22", "TREED-B"));
    const store = new MemoryStore();
    store.modelId = "tamsin-reed-a";
    board.plug(link.clock.nowUs());
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    return { board, link, store };
  };
  const feels = async (link: BoardLink) => {
    const { idiom } = await declareBoard(link, catalogue());
    return readSenses(valueOf(await askCommand(link.console, idiom, "sense")).output.join("\n"), idiom);
  };

  it("case C57: it finds no gyro; by its model's target, settings and all, it does, and the checks hold", async () => {
    const { board, link, store } = await wrongTarget();
    expect((await feels(link)).roll).toBeUndefined();
    const job = asModelJob(true);
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    expect(foundIn(foldJob(job.steps, store.journal)).target).toBe("TREED");
    expect((await feels(link)).roll).toBeDefined();
    expect((await declareBoard(link, catalogue())).identity.target).toBe("TREED");
  });

  it("without a person's word for it the contradiction stops the job, and nothing is touched", async () => {
    const { board, link, store } = await wrongTarget();
    const before = Buffer.from(board.flash.bytes);
    await expect(runUpdate(board, link, store, { job: asModelJob(false) })).rejects.toThrow("target-contradiction");
    expect(Buffer.compare(before, board.flash.bytes)).toBe(0);
  });
});
