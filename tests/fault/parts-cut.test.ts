import { currentStep, foldJob } from "@/core/job";
import { partName } from "@/core/part";
import type { SimBoard, SimLink } from "@/core/sim";
import { batteryHands, boardOf, partsJob, stored } from "../support/parts";
import { MemoryStore, runUpdate } from "../support/workshop";

const THIRD = partName("speed controllers", 3);

const run = (
  made: { board: SimBoard; link: SimLink },
  store: MemoryStore,
  job: ReturnType<typeof partsJob>,
  at?: string,
) =>
  runUpdate(made.board, made.link, store, {
    job,
    hands: (ask) => batteryHands(ask, made.board, made.link),
    ...(at === undefined ? {} : { killWhen: (state) => currentStep(state)?.id === at }),
  });

describe("a job for parts that is cut off", () => {
  it("at every fifth step (each in the soak): killed with its board as it stands, the job goes on, and all agree", async () => {
    const { aircraft, fitted } = await boardOf("QW-01");
    const job = partsJob(aircraft, fitted, { [THIRD]: "spindle-45" });
    const every = process.env.SOAK === undefined ? 5 : 1;
    for (let k = 0; k < job.steps.length; k += every) {
      const id = job.steps[k]?.id ?? "";
      const made = await boardOf("QW-01");
      const store = new MemoryStore();
      expect([id, await run(made, store, job, id)]).toEqual([id, "let-go"]);
      const again = stored(made.board, made.link);
      await again.link.clock.waitUntil(again.link.clock.nowUs() + 2_000_000);
      expect([id, await run(again, store, job)]).toEqual([id, "finished"]);
      expect([
        id,
        again.board.parts.all.map(({ runs, halfImageStarts }) => [runs?.release.id, halfImageStarts]),
      ]).toEqual([id, [1, 2, 3, 4].map((no) => [no === 3 ? "spindle-45" : "spindle-44", 0])]);
      const done = store.journal.flatMap(({ entry }) => (entry.kind === "done" ? [entry.step] : []));
      expect([id, new Set(done).size]).toEqual([id, done.length]);
      expect([id, again.board.leadsTo, foldJob(job.steps, store.journal).phase]).toEqual([id, undefined, "finished"]);
    }
  }, 240_000);

  it("the cable pulled in the middle of a transfer: it goes on when it is back, whatever the line is", async () => {
    for (const bytes of [1, 3000, 30_000]) {
      const made = await boardOf("QW-01");
      const store = new MemoryStore();
      const job = partsJob(made.aircraft, made.fitted, { [THIRD]: "spindle-45" });
      let pulled = false;
      const end = await runUpdate(made.board, made.link, store, {
        job,
        hands: (ask) => batteryHands(ask, made.board, made.link),
        onProgress: (progress) => {
          const through = (progress?.doneShare ?? 0) * 100_000 > bytes;
          if (pulled || !through || progress?.say !== "Writing") return;
          pulled = true;
          made.board.unplug(made.link.clock.nowUs());
        },
      });
      expect([bytes, pulled, end]).toEqual([bytes, true, "finished"]);
      expect(made.board.parts.at("speed controllers", 3)?.runs?.release.id).toBe("spindle-45");
    }
  }, 120_000);
});
