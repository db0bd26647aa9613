import { strToU8, zipSync } from "fflate";
import {
  PAPERS,
  README,
  READING,
  ROWS,
  SEALS,
  VISIT,
  type RowLine,
  type SealLine,
  type VisitFile,
} from "@/core/papers";
import { ProblemError } from "@/core/problem";
import { getBlob, isSpoilt, sha256 } from "@/server/repositories/blobs";
import { jobById } from "@/server/repositories/jobs";
import { one, rows } from "@/server/sql";

/** The rows of a visit that are sealed, each with the text that its seal is over. */
const SEALED_ROWS = `
  select 'journal' as kind, t.bench_id || '/' || t.no as key, seal_text(to_jsonb(t)) as text from journal t where t.job_id = $1
  union all select 'jobs', t.id::text, seal_text(to_jsonb(t) - array['state', 'headline', 'chip_id', 'ended_at']) from jobs t where t.id = $1
  union all select 'jobs-ended', t.id::text, seal_text(to_jsonb(t)) from jobs t where t.id = $1 and t.ended_at is not null
  union all select 'backups', t.id::text, seal_text(to_jsonb(t)) from backups t
    where t.job_id = $1 or t.id = (select (goal ->> 'backupId')::int from jobs where id = $1)`;

const SEAL = `no::int, kind, key, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as at,
  row_sha256 as row, before, sha256`;

const HOW = (headline: string, tag: string) => `The papers of a visit: ${headline}, ${tag}.

to read/     the visit in words (visit.html), plan, decisions and proof, script and read-outs: for people, without seals
rows.jsonl   what was kept of it, each line as it was sealed
seals.jsonl  the seals, from the first of the visit to its last, each over the one before
papers/      the files that the rows name, each called by its SHA-256

To check them without the workshop: bin/verify with this file, or the page “Check papers”. Whether the chain is the
workshop’s own shows its last seal, which its keeper has written down.
`;

const jsonl = (lines: readonly object[]) => strToU8(lines.map((line) => `${JSON.stringify(line)}\n`).join(""));

/** Names of papers in a row: whatever an entry calls by its hash. */
const namedIn = ({ kind, text }: RowLine): string[] =>
  kind === "backups"
    ? [(JSON.parse(text) as { sha256: string }).sha256]
    : [...text.matchAll(/Sha"\s*:\s*"([0-9a-f]{64})"/g)].map(([, sha = ""]) => sha);

/**
 * A visit's papers as a ZIP that can be checked without this database. A paper that is damaged here is left out, and missed.
 * `reading`: files for people, by their names.
 */
export async function visitPapers(
  jobId: number,
  reading: Readonly<Record<string, Uint8Array>> = {},
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
  const job = await jobById(jobId);
  if (!job) throw new ProblemError({ code: "job-none", message: "There is no such job" });
  const kept = await rows<RowLine>(`select * from (${SEALED_ROWS}) kept order by kind, length(key), key`, [jobId]);
  const range = await one<{ first: number; last: number }>(
    `select min(s.no)::int as first, max(s.no)::int as last from seals s
     where (s.kind in ('jobs', 'jobs-ended') and s.key = $1::text)
        or (s.kind = 'journal' and s.key in (select bench_id || '/' || no from journal where job_id = $1::int))`,
    [jobId],
  );
  const { first = 1, last = 0 } = range ?? {};
  // what is older than the visit, as the backup that it is set up from, has its seal before the range
  const seals = await rows<SealLine>(
    `select ${SEAL} from seals where no between $1 and $2
        or (kind = 'backups' and key = any($3::text[])) order by seals.no`,
    [first, last, kept.filter(({ kind }) => kind === "backups").map(({ key }) => key)],
  );
  const files: Record<string, Uint8Array> = {};
  for (const sha of new Set(kept.flatMap(namedIn))) {
    const bytes = await getBlob(sha).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (bytes) files[`${PAPERS}${sha}`] = bytes;
  }
  const { tag, headline } = job;
  const about: VisitFile = {
    format: "fresh-start-visit",
    version: 1,
    job: jobId,
    tag,
    headline,
    first,
    last,
    reading: Object.fromEntries(Object.entries(reading).map(([name, bytes]) => [name, sha256(bytes)])),
  };
  return {
    name: `${tag} visit ${jobId} papers.zip`,
    bytes: zipSync({
      [VISIT]: strToU8(JSON.stringify(about, null, 2)),
      [README]: strToU8(HOW(headline, tag)),
      [ROWS]: jsonl(kept),
      [SEALS]: jsonl(seals),
      ...files,
      ...Object.fromEntries(Object.entries(reading).map(([name, bytes]) => [`${READING}${name}`, bytes])),
    }),
  };
}
