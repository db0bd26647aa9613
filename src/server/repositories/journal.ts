import { checkEntry, checkPlace, readEntry, type Entered, type Entry, type Standing } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { fencedOut } from "@/server/repositories/bench";
import { literal, type Transaction } from "sequelize";
import { getDb } from "@/server/db";
import type { JournalRow } from "@/server/models";
import { inTransaction, list, notify, NOW, rows, type Row } from "@/server/sql";
import type { StreamedEntry } from "@/contracts/answers/live";

export interface NewEntry {
  readonly benchId: number;
  readonly fence: string;
  readonly jobId: number;
  readonly bayNo: number;
  readonly account: string | null;
  readonly entry: Entry;
  /** How many entries of the job it was judged by, where it holds only as long as no others have come. */
  readonly seen?: number | undefined;
}

/**
 * Appends under the bench's lock, which gives numbers in the order of commits, only for the holder of the fence, and only
 * where it may stand in the job's record (`checkPlace`).
 * `along` writes what must stand or fall with the entry.
 */
export function appendEntry(entry: NewEntry, along?: (transaction: Transaction) => Promise<void>): Promise<Entered> {
  checkEntry(entry.entry);
  return inTransaction(async (transaction) => {
    const { Bench, JournalRow } = getDb();
    const [, [bench]] = await Bench.update(
      { next_no: literal("next_no + 1"), seen_at: NOW },
      { where: { id: entry.benchId, fence: entry.fence }, returning: true, transaction },
    );
    if (!bench) throw fencedOut();
    const no = Number(bench.next_no) - 1;
    const before = await standing(entry.jobId, transaction);
    checkPlace(before, entry.seen);
    const kept = closing(entry.entry, before.entries);
    const { benchId: bench_id, jobId: job_id, bayNo: bay_no, account } = entry;
    const row = await JournalRow.create(
      { bench_id, no: String(no), job_id, bay_no, account, entry: kept },
      { transaction },
    );
    await along?.(transaction);
    await notify("journal", String(bench_id), transaction);
    return { no, at: row.at.getTime(), account, entry: kept };
  });
}

async function standing(jobId: number, transaction: Transaction): Promise<Standing> {
  const { Job, JournalRow } = getDb();
  const open = await Job.count({ where: { id: jobId, state: "open" }, transaction });
  return { open: open > 0, entries: await JournalRow.count({ where: { job_id: jobId }, transaction }) };
}

/** The entry that ends a visit says how many it had: one that is left out of its papers is missed. */
const closing = (entry: Entry, before: number): Entry =>
  entry.kind === "finished" || entry.kind === "stopped" ? { ...entry, entries: before } : entry;

/** An entry that this program cannot read is named; nothing is worked out from the others without it. */
function entryOf({ no, entry }: Row<JournalRow>): Entry {
  try {
    return readEntry(entry);
  } catch (error) {
    throw new ProblemError({
      code: "journal-unreadable",
      message: `Entry ${no} of the record cannot be read`,
      detail: error instanceof Error ? error.message : String(error),
      hint: "Nothing of it is lost. The job can be stopped and ordered anew",
    });
  }
}

const entered = (row: Row<JournalRow>): Entered => ({
  no: Number(row.no),
  at: row.at.getTime(),
  account: row.account,
  entry: entryOf(row),
});

export async function entriesOfJob(jobId: number, transaction?: Transaction): Promise<Entered[]> {
  const found = await list(getDb().JournalRow, { where: { job_id: jobId }, order: ["no"], transaction });
  return found.map(entered);
}

/**
 * What has been appended after a number of each bench, at most 500 of each; of a bench that has none, all. So many of each
 * group in one query is beyond a model.
 */
export async function entriesAfter(last: ReadonlyMap<number, number>): Promise<StreamedEntry[]> {
  return rows<StreamedEntry>(
    `select j.bench_id as "benchId", j.no::float8 as no, j.job_id as "jobId", j.bay_no as "bayNo", j.entry->>'kind' as kind
     from benches b left join unnest($1::int[], $2::bigint[]) seen (bench, no) on seen.bench = b.id
     cross join lateral (select * from journal where bench_id = b.id and no > coalesce(seen.no, 0) order by no limit 500) j
     order by b.id, j.no`,
    [[...last.keys()], [...last.values()]],
  );
}

/** The number of the last entry of each bench, by the bench's id. */
export async function lastNos(): Promise<ReadonlyMap<number, number>> {
  const found = await list(getDb().Bench, { attributes: ["id", "next_no"], order: ["id"] });
  return new Map(found.map(({ id, next_no: next }) => [id, Number(next) - 1]));
}
