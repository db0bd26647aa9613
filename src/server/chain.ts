import { createHash } from "node:crypto";
import { one, rows } from "@/server/sql";

/** Something that does not agree with the chain, in words. */
export interface ChainFault {
  readonly kind: "link" | "changed" | "removed" | "unsealed" | "back-dated" | "paper" | "witness";
  readonly says: string;
}

/** What was the last seal at some time, as somebody outside of the database wrote it down. */
export interface Witness {
  readonly no: number;
  readonly sha256: string;
}

export interface ChainReport {
  readonly seals: number;
  readonly head: Witness;
  readonly faults: readonly ChainFault[];
}

const PAGE = 2_000;
const NOTHING = "0".repeat(64);
/** More would tell nobody more. */
const MOST_FAULTS = 200;

/** What each kind of row is sealed without, because it changes later, and how its key names it. */
const KINDS: Readonly<
  Record<string, { readonly table: string; readonly free?: readonly string[]; readonly on?: string }>
> = {
  journal: {
    table: "journal",
    on: "t.bench_id = split_part(s.key, '/', 1)::int and t.no = split_part(s.key, '/', 2)::bigint",
  },
  backups: { table: "backups" },
  standards: { table: "standards" },
  backup_notes: { table: "backup_notes" },
  catalogue_documents: { table: "catalogue_documents" },
  images: { table: "images" },
  board_moves: { table: "board_moves" },
  groundings: { table: "groundings", free: ["lifted_by", "lifted_at"] },
  "groundings-ended": { table: "groundings" },
  jobs: { table: "jobs", free: ["state", "headline", "chip_id", "ended_at"] },
  "jobs-ended": { table: "jobs" },
  campaigns: { table: "campaigns", free: ["state", "state_reason", "changed_by", "changed_at"] },
  campaign_decisions: { table: "campaign_decisions" },
  allowances: { table: "allowances", free: ["ended_by", "ended_at"] },
  "allowances-ended": { table: "allowances" },
  document_standings: { table: "document_standings" },
  document_origins: { table: "document_origins" },
  read_as: { table: "read_as" },
  signing_keys: { table: "signing_keys" },
  visit_statements: { table: "visit_statements", on: "t.job_id = s.key::int" },
};
/** Rows that must have a seal of their kind. */
const MUST: Readonly<Record<string, string>> = {
  "groundings-ended": "lifted_at is not null",
  "jobs-ended": "ended_at is not null",
  "allowances-ended": "ended_at is not null",
};

const hash = (text: string) => createHash("sha256").update(text).digest("hex");

/** The last seal. */
export async function chainHead(): Promise<Witness> {
  const head = await one<{ no: string; sha256: string }>("select no, sha256 from seal_head");
  return { no: Number(head?.no ?? 0), sha256: head?.sha256 ?? NOTHING };
}

interface Seal {
  readonly no: string;
  readonly kind: string;
  readonly key: string;
  readonly moment: string;
  readonly row_sha256: string;
  readonly before: string;
  readonly sha256: string;
}

/** Each seal holds the hash of the one before it; the last is the one that the database holds to be last. */
async function checkLinks(tell: (fault: ChainFault) => void, witnesses: readonly Witness[]): Promise<Witness> {
  const wanted = new Map(witnesses.map((witness) => [witness.no, witness.sha256]));
  let [no, last] = [0, NOTHING];
  for (;;) {
    const some = await rows<Seal>(
      `select no, kind, key, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as moment, row_sha256, before, sha256
       from seals where no > $1 order by no limit $2`,
      [no, PAGE],
    );
    for (const seal of some) {
      const own = Number(seal.no);
      if (own !== no + 1) tell({ kind: "removed", says: `The seals between ${no} and ${own} are gone` });
      const link = hash([seal.before, own, seal.kind, seal.key, seal.moment, seal.row_sha256].join("\n"));
      if (seal.before !== last || link !== seal.sha256)
        tell({ kind: "link", says: `Seal ${own} (${seal.kind} ${seal.key}) does not follow from the one before it` });
      const told = wanted.get(own);
      if (told !== undefined && told !== seal.sha256)
        tell({
          kind: "witness",
          says: `Seal ${own} is another than the one that was written down outside of the database`,
        });
      [no, last] = [own, seal.sha256];
    }
    if (some.length < PAGE) break;
  }
  const furthest = Math.max(0, ...wanted.keys());
  if (furthest > no)
    tell({
      kind: "witness",
      says: `There were ${furthest} seals once, as was written down outside of the database; now ${no}`,
    });
  return { no, sha256: last };
}

/** Each sealed row is there and is what it was; each row is sealed. */
async function checkRows(kind: string, tell: (fault: ChainFault) => void): Promise<void> {
  const { table, free = [], on = "t.id = s.key::int" } = KINDS[kind] ?? { table: kind };
  const left = free.length === 0 ? "to_jsonb(t)" : `to_jsonb(t) - array[${free.map((name) => `'${name}'`).join(", ")}]`;
  for (let after = "0"; ;) {
    const some = await rows<{ no: string; key: string; row_sha256: string; text: string | null }>(
      `select s.no, s.key, s.row_sha256, case when t.tableoid is not null then seal_text(${left}) end as text
       from seals s left join ${table} t on ${on} where s.kind = $1 and s.no > $2 order by s.no limit $3`,
      [kind, after, PAGE],
    );
    for (const { key, row_sha256: sealed, text } of some)
      if (text === null) tell({ kind: "removed", says: `${table} ${key} was taken out` });
      else if (hash(text) !== sealed) tell({ kind: "changed", says: `${table} ${key} was rewritten` });
    const last = some.at(-1);
    if (!last || some.length < PAGE) break;
    after = last.no;
  }
  const loose = await rows<{ row: string }>(
    `select to_jsonb(t)::text as row from ${table} t where ${MUST[kind] ?? "true"}
       and not exists (select 1 from seals s where s.kind = $1 and ${on}) limit $2`,
    [kind, MOST_FAULTS],
  );
  for (const { row } of loose)
    tell({ kind: "unsealed", says: `${table} has a row that was put in past the chain: ${row.slice(0, 160)}` });
}

/** An entry says when it was written; its seal, which the database makes by itself, says so too. */
async function checkTimes(tell: (fault: ChainFault) => void): Promise<void> {
  const odd = await rows<{ key: string; at: Date; sealed: Date }>(
    `select s.key, t.at, s.at as sealed from seals s join journal t on ${KINDS.journal?.on}
     where s.kind = 'journal' and abs(extract(epoch from s.at - t.at)) > 600
       and s.no > coalesce((select no from seals where kind = 'chain' and key = 'began'), 0) limit $1`,
    [MOST_FAULTS],
  );
  for (const { key, at, sealed } of odd)
    tell({
      kind: "back-dated",
      says: `journal ${key} says ${at.toISOString()}, but was written ${sealed.toISOString()}`,
    });
}

/** The papers that entries name by their hash are there. What they hold is looked at by `damagedBlobs`. */
async function checkPapers(tell: (fault: ChainFault) => void): Promise<void> {
  const missing = await rows<{ key: string; name: string }>(
    `select t.bench_id || '/' || t.no as key, named.m[1] as name
     from journal t, regexp_matches(t.entry::text, 'Sha"\\s*:\\s*"([0-9a-f]{64})"', 'g') as named(m)
     where not exists (select 1 from blobs b where b.sha256 = named.m[1]) limit $1`,
    [MOST_FAULTS],
  );
  for (const { key, name } of missing)
    tell({ kind: "paper", says: `journal ${key} names a paper that is not there: ${name}` });
}

/**
 * Holds everything that is kept for good against the chain of seals: whatever was rewritten, taken out, put in past it or
 * back-dated is named. Whoever owns the database could make the whole chain anew; what was written down of it outside
 * (`witnesses`) shows that.
 */
export async function verifyChain(witnesses: readonly Witness[] = []): Promise<ChainReport> {
  const faults: ChainFault[] = [];
  const tell = (fault: ChainFault) => {
    if (faults.length < MOST_FAULTS) faults.push(fault);
  };
  // what comes in meanwhile is looked at the next time
  const head = await checkLinks(tell, witnesses);
  const kept = await chainHead();
  if (kept.no < head.no)
    tell({ kind: "link", says: `The database holds seal ${kept.no} to be the last; there are ${head.no}` });
  if (kept.no === head.no && kept.sha256 !== head.sha256)
    tell({ kind: "link", says: "The last seal is not the one that the database holds to be last" });
  for (const kind of Object.keys(KINDS)) await checkRows(kind, tell);
  await checkTimes(tell);
  await checkPapers(tell);
  return { seals: head.no, head, faults };
}
