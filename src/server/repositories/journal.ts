import { checkEntry, checkPlace, readEntry, type Entered, type Entry, type Standing } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { fencedOut } from "@/server/repositories/bench";
import { inTransaction, one, rows, run, jsonText } from "@/server/sql";
import type { Transaction } from "sequelize";

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
    const next = await one<{ no: string }>(
      "update benches set next_no = next_no + 1, seen_at = now() where id = $1 and fence = $2 returning next_no - 1 as no",
      [entry.benchId, entry.fence],
      transaction,
    );
    if (!next) throw fencedOut();
    const before = await standing(entry.jobId, transaction);
    checkPlace(before, entry.seen);
    const kept = closing(entry.entry, before.entries);
    const row = await one<{ at: Date }>(
      "insert into journal (bench_id, no, job_id, bay_no, account, entry) values ($1, $2, $3, $4, $5, $6) returning at",
      [entry.benchId, next.no, entry.jobId, entry.bayNo, entry.account, jsonText(kept)],
      transaction,
    );
    await along?.(transaction);
    await run("select pg_notify('fresh_start_journal', $1)", [String(entry.benchId)], transaction);
    return { no: Number(next.no), at: row?.at.getTime() ?? 0, account: entry.account, entry: kept };
  });
}

async function standing(jobId: number, transaction: Transaction): Promise<Standing> {
  const row = await one<Standing>(
    `select j.state = 'open' as open, (select count(*)::int from journal where job_id = j.id) as entries
     from jobs j where j.id = $1`,
    [jobId],
    transaction,
  );
  return row ?? { open: false, entries: 0 };
}

/** The entry that ends a visit says how many it had: one that is left out of its papers is missed. */
const closing = (entry: Entry, before: number): Entry =>
  entry.kind === "finished" || entry.kind === "stopped" ? { ...entry, entries: before } : entry;

interface JournalRow {
  readonly no: string;
  readonly at: Date;
  readonly account: string | null;
  readonly entry: unknown;
  readonly job_id: number | null;
  readonly bay_no: number | null;
}

/** An entry that this program cannot read is named; nothing is worked out from the others without it. */
function entryOf({ no, entry }: JournalRow): Entry {
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

const entered = (row: JournalRow): Entered => ({
  no: Number(row.no),
  at: row.at.getTime(),
  account: row.account,
  entry: entryOf(row),
});

export async function entriesOfJob(jobId: number): Promise<Entered[]> {
  const found = await rows<JournalRow>(
    "select no, at, account, entry, job_id, bay_no from journal where job_id = $1 order by no",
    [jobId],
  );
  return found.map(entered);
}

export interface StreamedEntry {
  readonly benchId: number;
  readonly no: number;
  readonly jobId: number | null;
  readonly bayNo: number | null;
  readonly kind: string;
}

/** What has been appended after a number of each bench, at most 500 of each; of a bench that has none, all. */
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
  const found = await rows<{ id: number; no: string }>("select id, next_no - 1 as no from benches order by id");
  return new Map(found.map(({ id, no }) => [id, Number(no)]));
}
