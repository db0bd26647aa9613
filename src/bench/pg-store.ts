import type { Entry, Entered } from "@/core/job";
import type { JobOrder, JobStore } from "@/bench/store";
import { fileBackup, fileRescue, recitalOf } from "@/server/repositories/backups";
import { sha256, getJson, putJson } from "@/server/repositories/blobs";
import { loadCatalogue, loadImage } from "@/server/repositories/catalogue";
import { boardsByChip } from "@/server/repositories/boards";
import { appendEntry, entriesOfJob } from "@/server/repositories/journal";
import type { JobRow } from "@/server/repositories/jobs";
import { run } from "@/server/sql";
import type { Transaction } from "sequelize";

export interface StoreOptions {
  readonly job: JobRow;
  readonly fence: string;
  /** Stores the simulated board first, so that the journal never knows more than its flash. */
  readonly beforeAppend: () => Promise<void>;
}

/** What the runner needs to know of a job. */
export const orderOf = (row: JobRow): JobOrder => ({
  id: row.id,
  tag: row.tag,
  aircraftId: row.aircraft_id,
  chipId: row.chip_id,
  releaseId: row.goal.releaseId,
  ...(row.goal.kind === "set-up" ? { sourceId: row.goal.backupId } : {}),
  actions: row.steps,
});

/** What an entry changes in the job and the register, in the same transaction. */
async function applyToRegister(job: JobRow, entry: Entry, transaction: Transaction): Promise<void> {
  const aircraft = (state: string, reason: string) =>
    run(
      "update aircraft set state = $2, state_reason = $3 where id = $1",
      [job.aircraft_id, state, reason],
      transaction,
    );
  const end = (state: string) =>
    run("update jobs set state = $2, ended_at = now() where id = $1", [job.id, state], transaction);
  switch (entry.kind) {
    case "ordered":
      return aircraft("on-bench", job.headline);
    case "finished":
      await end("finished");
      return aircraft("in-service", "");
    case "stopped":
      await end("stopped");
      return aircraft("out-of-service", `${job.headline} was stopped: ${entry.reason}`);
    default:
      return;
  }
}

export function pgStore({ job, fence, beforeAppend }: StoreOptions): JobStore {
  const filing = (raw: Uint8Array) => ({
    raw,
    tag: job.tag,
    aircraftId: job.aircraft_id,
    jobId: job.id,
    chipId: job.chip_id,
    account: job.ordered_by,
    at: new Date().toISOString(),
  });
  return {
    entries: () => entriesOfJob(job.id),
    append: async (entry, account): Promise<Entered> => {
      await beforeAppend();
      const place = { benchId: job.bench_id, fence, jobId: job.id, bayNo: job.bay_no, account: account ?? null };
      return appendEntry({ ...place, entry }, (transaction) => applyToRegister(job, entry, transaction));
    },
    putJson,
    getJson,
    fileBackup: (raw) => fileBackup({ ...filing(raw), source: "job" }),
    recitalOf,
    fileRescue: async (raw) => {
      await fileRescue({ ...filing(raw), source: "rescue" });
      return { sha256: sha256(raw) };
    },
    catalogue: loadCatalogue,
    image: async (releaseId, target) => loadImage(await loadCatalogue(), releaseId, target),
    knownModel: async () => {
      const known = (await boardsByChip(job.chip_id)).filter((board) => board.aircraft_id === job.aircraft_id);
      const [board] = known;
      return known.length === 1 && board ? { modelId: board.model_id, target: board.target } : undefined;
    },
    boardRuns: (releaseId, target) =>
      run("update boards set release_id = $3, target = $4 where chip_id = $1 and aircraft_id = $2", [
        job.chip_id,
        job.aircraft_id,
        releaseId,
        target,
      ]),
  };
}
