import { asPlanned, type Proof } from "@/core/carryover";
import { foldJob, resultOf } from "@/core/job";
import { partName } from "@/core/part";
import { boardOf, partsJob } from "../support/parts";
import { fusedStore, keepRunning, type Fuse } from "../support/fuses";
import { MemoryStore } from "../support/workshop";

const CO = partName("co-processor", 1);

describe("case C78: each call of the store fails once while a part is written, before its work or after it", () => {
  it("every thirty-first call (each in the soak): board, part, record and papers agree afterwards", async () => {
    const run = async (fuse: Fuse, after: boolean) => {
      const { board, link, aircraft, fitted } = await boardOf("QW-13", { fitted: [] });
      const store = new MemoryStore();
      store.modelId = aircraft.model;
      const job = partsJob(aircraft, fitted, { [CO]: "pirn-6" });
      await keepRunning({ job }, board, link, store, fusedStore(store, fuse, after));
      const state = foldJob(job.steps, store.journal);
      const part = board.parts.at("co-processor", 1);
      expect([fuse.at, after, state.phase, part?.runs?.release.id, part?.halfImageStarts, board.leadsTo]).toEqual([
        ...[fuse.at, after, "finished", "pirn-6", 0, undefined],
      ]);
      const proof = store.papers.get(resultOf(state, "prove", CO).proofSha ?? "") as Proof;
      expect([fuse.at, after, asPlanned(proof)]).toEqual([fuse.at, after, true]);
      const done = store.journal.flatMap(({ entry }) => (entry.kind === "done" ? [entry.step] : []));
      expect([fuse.at, after, new Set(done).size]).toEqual([fuse.at, after, done.length]);
    };
    const counted: Fuse = { at: -1, calls: 0 };
    await run(counted, false);
    expect(counted.calls).toBeGreaterThan(40);
    const every = process.env.SOAK === undefined ? 31 : 1;
    for (let at = 1; at <= counted.calls; at += every)
      for (const after of [false, true])
        if (every === 1 || Math.floor(at / every) % 2 === (after ? 1 : 0)) await run({ at, calls: 0 }, after);
  }, 3_600_000);
});

describe("case C42: a part that runs its release already", () => {
  it("nothing is written to it, and that is said", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-13", { fitted: [] });
    const store = new MemoryStore();
    store.modelId = aircraft.model;
    const job = partsJob(aircraft, fitted, { [CO]: "pirn-5" });
    await keepRunning({ job }, board, link, store, store);
    const flash = foldJob(job.steps, store.journal).steps.find(
      ({ kind, subject }) => kind === "flash" && subject === CO,
    );
    expect(flash?.evidence).toMatch(/^Nothing to write: all \d+ segments hold the right bytes already/);
  });
});
