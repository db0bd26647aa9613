import { refuse, type Result } from "@/core/problem";
import { serverProblem } from "@/server/away";
import { readOutside } from "@/server/outside/pool";
import { foldJob, type Entry, type Entered, resultOf } from "@/core/job";
import type { FiledPart, JobOrder, JobStore } from "@/bench/store";
import { fileBackup, fileRescue, recitalOf } from "@/server/repositories/backups";
import { planFor } from "@/server/repositories/job-plans";
import { getBlob, getJson, putJson, sha256 } from "@/server/repositories/blobs";
import { catalogueOf, loadImage, newerThan } from "@/server/repositories/catalogue";
import { holdFence } from "@/server/repositories/bench";
import { addGrounding, liftBySignOff, settleState } from "@/server/repositories/groundings";
import { boardsByChip } from "@/server/repositories/boards";
import { appendEntry, entriesOfJob } from "@/server/repositories/journal";
import { ensureStatement } from "@/server/repositories/visit-statements";
import type { JobRow } from "@/server/repositories/jobs";
import { getDb } from "@/server/db";
import { inTransaction, NOW } from "@/server/sql";
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
  goal: row.goal,
  steps: row.steps,
});

/** Nobody tuned what it flies on: a person takes that back when it is tuned, or a job that brings a tune or a starter set. */
const groundUntuned = (job: JobRow, account: string, transaction: Transaction) =>
  addGrounding(
    {
      aircraftId: job.aircraft_id,
      cause: "person",
      reason: `${job.headline} left its tune behind and laid no starter set: it flies on the release's plain defaults until it is tuned`,
      account,
      jobId: job.id,
    },
    transaction,
  );

const endJob = (id: number, state: "finished" | "stopped", transaction: Transaction) =>
  getDb().Job.update({ state, ended_at: NOW }, { where: { id }, transaction });

/** What an entry changes in the job and the register, in the same transaction. */
async function applyToRegister(
  job: JobRow,
  entry: Entry,
  account: string | undefined,
  transaction: Transaction,
): Promise<void> {
  const { aircraft_id: aircraftId } = job;
  switch (entry.kind) {
    case "ordered":
      return settleState(aircraftId, transaction, job.headline);
    case "signed":
      // what grounded it for reasons of somebody's own stays until that is taken back by name
      await liftBySignOff(aircraftId, account ?? "bench", transaction);
      if (resultOf(foldJob(job.steps, await entriesOfJob(job.id, transaction)), "plan").untuned)
        await groundUntuned(job, account ?? "bench", transaction);
      return;
    case "finished":
      await endJob(job.id, "finished", transaction);
      return settleState(aircraftId, transaction);
    case "stopped": {
      await endJob(job.id, "stopped", transaction);
      const reason = `${job.headline} was stopped: ${entry.reason}`;
      await addGrounding({ aircraftId, cause: "job", reason, account: account ?? "bench", jobId: job.id }, transaction);
      return settleState(aircraftId, transaction);
    }
    default:
      return;
  }
}

/** What a process of its own ends with, or the problem that it met. */
async function orProblem<T>(work: () => Promise<Result<T>>): Promise<Result<T>> {
  try {
    return await work();
  } catch (error) {
    return refuse(serverProblem(error));
  }
}

export function pgStore({ job, fence, beforeAppend }: StoreOptions): JobStore {
  // a loader may have shown only a part of it: the board says the rest when it first speaks
  let chipId = job.chip_id;
  const filing = (raw: Uint8Array) => ({
    raw,
    tag: job.tag,
    aircraftId: job.aircraft_id,
    jobId: job.id,
    chipId,
    account: job.ordered_by,
    at: new Date().toISOString(),
    fence: { benchId: job.bench_id, fence },
  });
  const ofPart = (part: FiledPart | undefined) => (part ? { part, chipId: null } : {});
  const catalogue = () => catalogueOf(job.documents);
  return {
    entries: () => entriesOfJob(job.id),
    append: async (entry, account, seen): Promise<Entered> => {
      await beforeAppend();
      const place = { benchId: job.bench_id, fence, jobId: job.id, bayNo: job.bay_no, account: account ?? null };
      const entered = await appendEntry({ ...place, entry, seen }, (transaction) =>
        applyToRegister(job, entry, account, transaction),
      );
      // its statement names the seals that this made; what is missed here is made up for by the keeper
      if (entry.kind === "finished" || entry.kind === "stopped") await ensureStatement(job.id).catch(() => undefined);
      return entered;
    },
    putJson: (value) =>
      inTransaction(async (transaction) => {
        await holdFence(job.bench_id, fence, transaction);
        return putJson(value, transaction);
      }),
    getJson,
    fileBackup: async (raw) => fileBackup({ ...filing(raw), source: "job" }, await catalogue()),
    recitalOf: async (id) => recitalOf(id, await catalogue()),
    plan: async (order) => planFor(order, await catalogue()),
    fileRescue: async (raw, part) => {
      await fileRescue({ ...filing(raw), ...ofPart(part), source: "rescue" });
      return { sha256: sha256(raw) };
    },
    rescued: getBlob,
    fileRescued: async (raw, part) =>
      // a part behind the board has no other read-out than that
      fileBackup({ ...filing(raw), ...ofPart(part), source: part ? "job" : "rescue" }, await catalogue()),
    catalogue,
    image: async (releaseId, target, hash) => loadImage(await catalogue(), releaseId, target, hash),
    playTwin: (input) => orProblem(() => readOutside("play-twin", { pins: job.documents, input })),
    changedSince: async () =>
      (await newerThan(job.documents)).map(
        ({ id, version, had }) =>
          `Since it was ordered ${id} came in as version ${version}; the job goes by version ${had}.`,
      ),
    knownModel: async () => {
      const known = (await boardsByChip(chipId)).filter((board) => board.aircraft_id === job.aircraft_id);
      const [board] = known;
      return known.length === 1 && board ? { modelId: board.model_id, target: board.target } : undefined;
    },
    boardRuns: async (releaseId, target, chip) => {
      await inTransaction(async (transaction) => {
        await holdFence(job.bench_id, fence, transaction);
        const { Board, Job } = getDb();
        await Board.update(
          { release_id: releaseId, target, chip_id: chip },
          { where: { chip_id: chipId, aircraft_id: job.aircraft_id }, transaction },
        );
        if (chip !== chipId) await Job.update({ chip_id: chip }, { where: { id: job.id, state: "open" }, transaction });
      });
      chipId = chip;
    },
  };
}
