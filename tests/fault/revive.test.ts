import type { BoardLink } from "@/bench/link";
import { currentStep, foldJob } from "@/core/job";
import { afflict, type Ailment, type SimBoard } from "@/core/sim";
import { cloneBoard, makeBoard, MemoryStore, reviveJob, runUpdate, updateJob } from "../support/workshop";

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
    expect(link.presence().kind).toBe("usb-loader");
    const job = reviveJob(1, "heddle-22");
    expect(await runUpdate(board, link, store, { job })).toBe("finished");
    const { steps, data } = foldJob(job.steps, store.journal);
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
      expect.objectContaining({ kind: "planned", because: "not so now: board: shows loader" }) as unknown,
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
    expect(link.presence().kind).toBe("usb-loader");
    expect(await runUpdate(board, link, store, { job: updateJob() })).toBe("finished");
    const needs = store.journal.flatMap(({ entry }) => (entry.kind === "waits" ? [entry.need.say] : []));
    expect(needs[0]).toBe("The board shows only its loader.");
  });
});
