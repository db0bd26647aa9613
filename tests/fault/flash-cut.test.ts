import { applicationSpace } from "@/core/image";
import { foldJob } from "@/core/job";
import type { SimBoard } from "@/core/sim";
import { cloneBoard, imageFile, MemoryStore, runUntil, runUpdate, standsAt, updateJob } from "../support/workshop";

const BLOCK_BYTES = 4096;

function expectWhole(board: SimBoard): void {
  const image = imageFile("heddle-23", "CSLATE-B");
  const at = applicationSpace(board.processor).start - board.processor.flashStart;
  expect(Buffer.compare(board.flash.bytes.subarray(at, at + image.length), image)).toBe(0);
}

describe("case C26: a flash that is cut", () => {
  let start: Awaited<ReturnType<typeof runUntil>>;
  /** Bytes that one flash programs, and sectors that it erases, measured on a flash that is not cut. */
  let programmed = 0;
  let erased = 0;

  const trial = () => {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    return { board, link, store: start.store.fork() };
  };
  const afterFlash = standsAt("restore");

  beforeAll(async () => {
    start = await runUntil(standsAt("flash"));
    const { board, link, store } = trial();
    const budget = 100_000_000;
    board.flash.programBudget = budget;
    board.flash.eraseBudget = budget;
    await runUpdate(board, link, store, { killWhen: afterFlash });
    programmed = budget - board.flash.programBudget;
    erased = budget - board.flash.eraseBudget;
    expectWhole(board);
  });

  it("power lost inside every block: never half an image, and the job ends with the whole one", async () => {
    const blocks = Math.ceil(programmed / BLOCK_BYTES);
    expect(blocks).toBeGreaterThan(80);
    for (let block = 0; block < blocks; block++) {
      const { board, link, store } = trial();
      // another place inside each block, its first and its last byte included
      board.flash.programBudget = block * BLOCK_BYTES + ((block * 1365) % BLOCK_BYTES);
      expect(await runUpdate(board, link, store, { killWhen: afterFlash })).toBe("let-go");
      expect({ block, half: board.halfImageStarts }).toEqual({ block, half: 0 });
      expectWhole(board);
      expect(foldJob(updateJob().steps, store.journal).steps.find((s) => s.id === "flash")?.status).toBe("done");
    }
  }, 180_000);

  it("power lost inside every erase", async () => {
    expect(erased).toBeGreaterThan(8);
    for (let sector = 0; sector < erased; sector++) {
      const { board, link, store } = trial();
      board.flash.eraseBudget = sector;
      await runUpdate(board, link, store, { killWhen: afterFlash });
      expect({ sector, half: board.halfImageStarts }).toEqual({ sector, half: 0 });
      expectWhole(board);
    }
  }, 60_000);

  it("the process killed at every tenth report: the next one goes on and writes only what is missing", async () => {
    let reports = 0;
    const counted = trial();
    await runUpdate(counted.board, counted.link, counted.store, { killWhen: afterFlash, onProgress: () => reports++ });
    for (let at = 3; at < reports; at += 10) {
      const { board, link, store } = trial();
      let seen = 0;
      const killed = await runUpdate(board, link, store, { killWhen: (state) => afterFlash(state) || ++seen > at });
      expect(killed).toBe("let-go");
      board.flash.programBudget = 100_000_000;
      await runUpdate(board, link, store, { killWhen: afterFlash });
      // what was written and checked before the kill is not written again: at most one segment is begun anew
      expect(100_000_000 - board.flash.programBudget).toBeLessThanOrEqual(programmed + 98_304);
      expect(board.halfImageStarts).toBe(0);
      expectWhole(board);
    }
  }, 120_000);

  it("case C25: transfers that stall now and then are repeated, and the image is right", async () => {
    const { board, link, store } = trial();
    board.faults = { ...board.faults, stallEvery: 120 };
    await runUpdate(board, link, store, { killWhen: afterFlash });
    expectWhole(board);
  });

  it("transfers that stall all the time end as a problem with a next step, never as a hang", async () => {
    const { board, link, store } = trial();
    board.faults = { ...board.faults, stallEvery: 2 };
    await expect(runUpdate(board, link, store, { killWhen: afterFlash })).rejects.toThrow("loader-error");
    expect(board.halfImageStarts).toBe(0);
  });

  it("case C42: nothing to write is a success that says so", async () => {
    const { board, link, store } = trial();
    await runUpdate(board, link, store, { killWhen: standsAt("first-start") });
    const again = new MemoryStore();
    again.journal.push(...start.store.journal);
    for (const [name, paper] of start.store.papers) again.papers.set(name, paper);
    again.backups.push(...start.store.backups);
    board.unplug(link.clock.nowUs());
    board.plug(link.clock.nowUs(), { button: true });
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    await runUpdate(board, link, again, { killWhen: standsAt("first-start") });
    expect(foldJob(updateJob().steps, again.journal).steps.find((s) => s.id === "flash")?.evidence).toMatch(
      /^Nothing to write/,
    );
  });
});
