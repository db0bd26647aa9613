import { checkEntry, readEntry, type Entered, type Entry } from "@/core/job";
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
}

/**
 * Appends under the bench's lock, which gives numbers in the order of commits, and only for the holder of the fence.
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
    const kept = await closing(entry, transaction);
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

/** The entry that ends a visit says how many it had: one that is left out of its papers is missed. */
async function closing({ jobId, entry }: NewEntry, transaction: Transaction): Promise<Entry> {
  if (entry.kind !== "finished" && entry.kind !== "stopped") return entry;
  const before = await one<{ n: number }>(
    "select count(*)::int as n from journal where job_id = $1",
    [jobId],
    transaction,
  );
  return { ...entry, entries: before?.n ?? 0 };
}

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
  readonly no: number;
  readonly jobId: number | null;
  readonly bayNo: number | null;
  readonly kind: string;
}

/** What has been appended after a number, at most 500 at a time. */
export async function entriesAfter(benchId: number, no: number): Promise<StreamedEntry[]> {
  const found = await rows<JournalRow>(
    "select no, at, account, entry, job_id, bay_no from journal where bench_id = $1 and no > $2 order by no limit 500",
    [benchId, no],
  );
  return found.map((row) => ({
    no: Number(row.no),
    jobId: row.job_id,
    bayNo: row.bay_no,
    kind: (row.entry as { kind: string }).kind,
  }));
}

export async function lastNo(benchId: number): Promise<number> {
  const row = await one<{ no: string }>("select next_no - 1 as no from benches where id = $1", [benchId]);
  return Number(row?.no ?? 0);
}
