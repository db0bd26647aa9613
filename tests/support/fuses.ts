import { foldJob, type JobState, type Progress } from "@/core/job";
import { ProblemError } from "@/core/problem";
import type { BoardLink } from "@/bench/link";
import { runJob } from "@/bench/runner";
import type { JobOrder, JobStore } from "@/bench/store";
import type { SimBoard } from "@/core/sim";
import { obey, type MemoryStore } from "./workshop";

/** Fails once, at its n-th call, however and by whomever it is called. */
export interface Fuse {
  readonly at: number;
  calls: number;
}
export const blown = (fuse: Fuse, what: string): Error | undefined =>
  ++fuse.calls === fuse.at ? new Error(`call ${fuse.at} (${what}) failed`) : undefined;

/** A store of which one call fails: before it has done anything, or when it has done it and only the answer is lost. */
export const fusedStore = (store: MemoryStore, fuse: Fuse, after: boolean): JobStore =>
  new Proxy(store, {
    get(held, name) {
      const method: unknown = Reflect.get(held, name);
      if (typeof method !== "function") return method;
      return async (...args: unknown[]) => {
        const error = blown(fuse, String(name));
        if (error && !after) throw error;
        const result: unknown = await method.apply(held, args);
        if (error) throw error;
        return result;
      };
    },
  });

/** A job that is kept going: until it fits, or to its end. */
interface Kept {
  readonly job: JobOrder;
  readonly until?: (state: JobState) => boolean;
  readonly hands?: (ask: NonNullable<Progress["ask"]>) => void;
}

/**
 * Runs a job as a bay does: what the runner cannot record ends it, and it is taken up again from its journal; a step that
 * failed is begun again by a person, once.
 */
export async function keepRunning(
  { job, until: ends, hands }: Kept,
  board: SimBoard,
  link: BoardLink,
  store: MemoryStore,
  seen: JobStore,
): Promise<void> {
  for (let round = 0; round < 6; round++) {
    const stop = new AbortController();
    let again = 0;
    const until = (state: JobState) => ends?.(state) === true && stop.abort();
    try {
      const end = await runJob({
        job,
        store: seen,
        link,
        signal: stop.signal,
        progress: (progress, state) => {
          if (progress?.ask) hands?.(progress.ask);
          until(state);
        },
        onWait: async (state) => {
          until(state);
          if (stop.signal.aborted) return;
          const now = foldJob(job.steps, store.journal);
          const failed = now.steps.find(({ status }) => status === "failed");
          if (!failed) return obey(now, board, link, store, job);
          if (++again > 2) throw new ProblemError(failed.problem ?? { code: "x", message: "failed without a problem" });
          await store.append({ kind: "again", step: failed.id }, "technician");
        },
      });
      if (end === "let-go" || end === "finished") return;
    } catch (error) {
      if (!/^call \d+ \(/.test((error as Error).message)) throw error;
    }
  }
  throw new Error("it never came to its end");
}
