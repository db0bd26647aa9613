import {
  nameOf,
  signedBy,
  STATEMENT,
  type EntryRow,
  type RowLine,
  type SealLine,
  type VisitStatement,
} from "@/core/papers";
import { sealedText } from "@/server/chain";
import { KINDS } from "@/server/chain-kinds";
import { sha256 } from "@/server/repositories/blobs";
import { jobById } from "@/server/repositories/jobs";
import { literal, Op } from "sequelize";
import { getDb } from "@/server/db";
import { list, one, rows } from "@/server/sql";

/** The rows of a visit that are sealed, each with the text that its seal is over: the database's own text of a row. */
const OF_VISIT = `
  select 'journal' as kind, t.bench_id || '/' || t.no as key, ${sealedText({})} as text from journal t where t.job_id = $1
  union all select 'jobs', t.id::text, ${sealedText(KINDS.jobs ?? {})} from jobs t where t.id = $1
  union all select 'jobs-ended', t.id::text, ${sealedText({})} from jobs t where t.id = $1 and t.ended_at is not null
  union all select 'backups', t.id::text, ${sealedText({})} from backups t where t.job_id = $1`;

const IN_ORDER = "order by kind, length(key), key";

const SEAL = `no::int, kind, key, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as at,
  row_sha256 as row, before, sha256`;

export const rowsOfVisit = (jobId: number): Promise<RowLine[]> =>
  rows(`select * from (${OF_VISIT}) kept ${IN_ORDER}`, [jobId]);

/** The sealed statement of a visit that has ended, as a row of its papers. */
export const statementRow = (jobId: number): Promise<RowLine | undefined> =>
  one(
    `select '${STATEMENT}' as kind, t.job_id::text as key, ${sealedText({})} as text from visit_statements t where t.job_id = $1`,
    [jobId],
  );

/** The backup from before the visit that it is made from, if it is. */
export const sourceRow = (jobId: number): Promise<RowLine | undefined> =>
  one(
    `select 'backups' as kind, t.id::text as key, ${sealedText({})} as text from backups t
     where t.id = (select (goal ->> 'backupId')::int from jobs where id = $1) and t.job_id is distinct from $1`,
    [jobId],
  );

/** All seals from one to another, both included. */
export const sealsBetween = (first: number, last: number): Promise<SealLine[]> =>
  rows(`select ${SEAL} from seals where no between $1 and $2 order by seals.no`, [first, last]);

/** The seal of one thing. */
export const sealOf = (kind: string, key: string): Promise<SealLine | undefined> =>
  one(`select ${SEAL} from seals where kind = $1 and key = $2 order by seals.no limit 1`, [kind, key]);

/** What a visit was, worked out from its rows as they stand now. */
export async function stateVisit(jobId: number, kept: readonly RowLine[]): Promise<VisitStatement | undefined> {
  const job = await jobById(jobId);
  const ends = await one<{ first: number; last: number }>(
    `select min(no)::int as first, max(no)::int as last from seals where kind || ' ' || key = any($1::text[])`,
    [kept.map(nameOf)],
  );
  const [first, last] = ends ? await Promise.all([ends.first, ends.last].map((no) => sealsBetween(no, no))) : [];
  if (!job || !first?.[0] || !last?.[0]) return undefined;
  const entries = kept
    .filter(({ kind }) => kind === "journal")
    .map(({ text }) => JSON.parse(text) as EntryRow)
    .toSorted((a, b) => (a.at < b.at ? -1 : 1));
  const [signed, source] = [signedBy(entries), await sourceRow(jobId)];
  return {
    job: jobId,
    tag: job.tag,
    headline: job.headline,
    goal: job.goal.kind,
    ended: kept.some(({ kind }) => kind === "jobs-ended") ? job.state : "open",
    ...(signed ? { signed } : {}),
    first: { no: first[0].no, sha256: first[0].sha256 },
    last: { no: last[0].no, sha256: last[0].sha256 },
    rows: kept.map(nameOf),
    ...(source ? { source: { key: source.key, row: sha256(new TextEncoder().encode(source.text)) } } : {}),
  };
}

/** Seals the statement of a visit that has ended, once. Does nothing for one that is open. */
export async function ensureStatement(jobId: number): Promise<void> {
  if (await statementRow(jobId)) return;
  const kept = await rowsOfVisit(jobId);
  if (!kept.some(({ kind }) => kind === "jobs-ended")) return;
  const says = await stateVisit(jobId, kept);
  if (says) await getDb().VisitStatementRow.bulkCreate([{ job_id: jobId, says }], { ignoreDuplicates: true });
}

/** Visits that ended without their statement: the process went down between the two. */
export const unstated = async (limit: number): Promise<number[]> =>
  (
    await list(getDb().Job, {
      where: {
        [Op.and]: [
          { ended_at: { [Op.ne]: null } },
          literal(`not exists (select from visit_statements where job_id = "Job".id)`),
        ],
      },
      attributes: ["id"],
      order: [["id", "desc"]],
      limit,
    })
  ).map(({ id }) => id);
