import { foldJob, resultOf } from "@/core/job";
import { oddOnes } from "@/core/part";
import { batteryHands, boardOf, partsJob } from "../support/parts";
import { MemoryStore, runUpdate } from "../support/workshop";

const names = [1, 2, 3, 4].map((no) => `speed controllers ${no}` as const);

describe("the parts behind a board", () => {
  it("are read out together: each with its release, its code and its values; the line is closed in the end", async () => {
    const { board, link, aircraft, fitted } = await boardOf("QW-01");
    const store = new MemoryStore();
    const job = partsJob(aircraft, fitted);
    const end = await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
    const state = foldJob(job.steps, store.journal);
    expect(end).toBe("finished");
    for (const name of names) {
      const { backupId = 0 } = resultOf(state, "decode-rescue", name);
      const recital = await store.recitalOf(backupId);
      expect([recital.release.id, recital.configuration.identity.target, recital.completeness.verdict]).toEqual([
        "spindle-44",
        "RIDGE-35",
        "complete",
      ]);
      expect(recital.configuration.settings.find(({ key }) => key === "lead angle")?.value).toBe(20);
    }
    expect([board.leadsTo, board.battery]).toEqual([undefined, false]);
  });

  it("case C94: one of four with another release or code is the odd one out", async () => {
    for (const [tag, no, what] of [
      ["QW-04", 3, "firmware"],
      ["QW-05", 2, "built for"],
    ] as const) {
      const { board, link, aircraft, fitted } = await boardOf(tag);
      const store = new MemoryStore();
      const job = partsJob(aircraft, fitted);
      await runUpdate(board, link, store, { job, hands: (ask) => batteryHands(ask, board, link) });
      const state = foldJob(job.steps, store.journal);
      const read = await Promise.all(
        fitted.map(async (part) => {
          const { release, configuration } = await store.recitalOf(
            resultOf(state, "decode-rescue", part.name).backupId ?? 0,
          );
          return { part, release, configuration, target: configuration.identity.target };
        }),
      );
      expect(oddOnes(read).map(({ part, what: differs }) => [part.no, differs])).toEqual([[no, what]]);
    }
  });
});
