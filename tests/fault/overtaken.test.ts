import { currentStep, foldJob, mayReopen, type Entered, type Entry, type JobState } from "@/core/job";
import { runJob } from "@/bench/runner";
import type { JobStore } from "@/bench/store";
import { cloneBoard, type MemoryStore, obey, runUntil, standsAt, updateJob } from "../support/workshop";

const job = updateJob();

/** A store before whose n-th call something is said by a person, and lies on the record before the call does its work. */
function overheard(store: MemoryStore, at: number, say: (store: MemoryStore) => Promise<void>) {
  const count = { calls: 0 };
  const heard = new Proxy(store, {
    get(target, name) {
      const value: unknown = Reflect.get(target, name);
      if (typeof value !== "function") return value;
      return async (...args: unknown[]) => {
        if (++count.calls === at) await say(target);
        return (value as (...all: unknown[]) => unknown).apply(target, args);
      };
    },
  });
  return { count, heard: heard as JobStore };
}

/** Which calls: every third, each in the soak. */
const EVERY = process.env.SOAK === undefined ? 3 : 1;

const OUTCOMES: readonly Entry["kind"][] = ["started", "waits", "done", "failed"];

/** What a step concluded stands where the job stood at that step, and nothing stands after the end. */
function expectInOrder(journal: readonly Entered[], n: number): void {
  journal.forEach(({ entry }, i) => {
    const before = foldJob(job.steps, journal.slice(0, i));
    expect([n, entry.kind, before.phase]).toEqual([n, entry.kind, "open"]);
    if (OUTCOMES.includes(entry.kind) && "step" in entry)
      expect([n, entry.kind, entry.step]).toEqual([n, entry.kind, currentStep(before)?.id]);
  });
}

describe("a person's word that comes while a step is at its work, before any call of the job's store", () => {
  let start: Awaited<ReturnType<typeof runUntil>>;
  beforeAll(async () => {
    start = await runUntil(standsAt("know-board"));
  }, 60_000);

  /** The run with a word said at its n-th call; the step that it meets is not let go of, so it comes to its outcome. */
  async function run(at: number, until: (state: JobState) => boolean, say: (store: MemoryStore) => Promise<void>) {
    const { board, link } = cloneBoard(start.board, start.link.clock.nowUs());
    const store = start.store.fork();
    const { count, heard } = overheard(store, at, say);
    const stop = new AbortController();
    const end = await runJob({
      job,
      store: heard,
      link,
      signal: stop.signal,
      progress: (_progress, state) => {
        if (until(state)) stop.abort();
      },
      onWait: async () => {
        const now = foldJob(job.steps, store.journal);
        if (until(now)) stop.abort();
        else await obey(now, board, link, store, job);
      },
    });
    return { end, store, calls: count.calls };
  }

  it("“stop” is the last that stands on its record, whichever call it comes before", async () => {
    const until = standsAt("check-attitude");
    const { calls } = await run(-1, until, () => Promise.resolve());
    expect(calls).toBeGreaterThan(60);
    // at the very last call the run is let go of already
    for (let at = 1; at < calls; at += EVERY) {
      const { end, store } = await run(at, until, async (of) => {
        await of.append({ kind: "stopped", reason: "enough" }, "technician");
      });
      expectInOrder(store.journal, at);
      expect([at, end, store.journal.at(-1)?.entry.kind]).toEqual([at, "stopped", "stopped"]);
    }
  }, 240_000);

  it("a plan laid open again is taken anew before anything goes on by the old one", async () => {
    const until = standsAt("flash");
    const { calls } = await run(-1, until, () => Promise.resolve());
    let reopened = 0;
    for (let at = 2; at <= calls; at += EVERY) {
      const { end, store } = await run(at, until, async (of) => {
        if (!mayReopen(job.steps, foldJob(job.steps, of.journal))) return;
        await of.append({ kind: "reopened" }, "technician");
      });
      expectInOrder(store.journal, at);
      expect([at, end]).toEqual([at, "let-go"]);
      const kinds = store.journal.map(({ entry }) => entry.kind);
      if (!kinds.includes("reopened")) continue;
      reopened++;
      expect([at, kinds.lastIndexOf("taken") > kinds.indexOf("reopened")]).toEqual([at, true]);
    }
    expect(reopened).toBeGreaterThan(5);
  }, 240_000);
});
