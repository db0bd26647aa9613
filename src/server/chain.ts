import { createHash } from "node:crypto";
import { problemOf } from "@/core/problem";
import { KINDS, type SealedKind } from "@/server/chain-kinds";
import { one, rows } from "@/server/sql";

/** Something that does not agree with the chain, in words. */
export interface ChainFault {
  readonly kind: "link" | "changed" | "removed" | "unsealed" | "back-dated" | "paper" | "witness" | "unread";
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
  /** What is no fault and explains what is seen: the machine's clock was set back. */
  readonly notes: readonly string[];
}

type Tell = (fault: ChainFault) => void;

const PAGE = 2_000;
const NOTHING = "0".repeat(64);
/** More would tell nobody more. */
const MOST_FAULTS = 200;
/** A clock may be off by so much, or a transaction be that long, in seconds. */
const SLACK_S = 600;

const hash = (text: string) => createHash("sha256").update(text).digest("hex");

/** The last seal, as the database holds it to be. */
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

const CLOCK = "clock set back";

/**
 * Each seal holds the hash of the one before it; the last is the one that the database holds to be last. Times go on, but where
 * the machine's clock was set back, which the database seals as that by itself: `note` is told.
 */
async function checkLinks(tell: Tell, note: (says: string) => void, witnesses: readonly Witness[]): Promise<Witness> {
  const wanted = new Map(witnesses.map((witness) => [witness.no, witness.sha256]));
  let [no, last, moment] = [0, NOTHING, ""];
  for (;;) {
    const some = await rows<Seal>(
      `select no, kind, key, pg_catalog.to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as moment, row_sha256, before, sha256
       from seals where no > $1 order by no limit $2`,
      [no, PAGE],
    );
    for (const seal of some) {
      const own = Number(seal.no);
      if (own !== no + 1) tell({ kind: "removed", says: `The seals between ${no} and ${own} are gone` });
      const link = hash([seal.before, own, seal.kind, seal.key, seal.moment, seal.row_sha256].join("\n"));
      if (seal.before !== last || link !== seal.sha256)
        tell({ kind: "link", says: `Seal ${own} (${seal.kind} ${seal.key}) does not follow from the one before it` });
      if (seal.kind !== "chain" && KINDS[seal.kind] === undefined)
        tell({ kind: "unsealed", says: `Seal ${own} is of a kind that there is not: ${seal.kind}` });
      const isClock = seal.kind === "chain" && seal.key.startsWith(CLOCK);
      const goesBack = Date.parse(seal.moment) < Date.parse(moment);
      if (isClock && goesBack && seal.key === `${CLOCK} from ${moment} to ${seal.moment}`)
        note(`Before seal ${own} the machine’s clock was set back, from ${moment} to ${seal.moment}`);
      else if (isClock || Date.parse(seal.moment) < Date.parse(moment) - SLACK_S * 1000)
        tell({ kind: "back-dated", says: `Seal ${own} says ${seal.moment}, and the one before it ${moment}` });
      const witnessed = wanted.get(own);
      if (witnessed !== undefined && witnessed !== seal.sha256)
        tell({
          kind: "witness",
          says: `Seal ${own} is another than the one that was written down outside of the database`,
        });
      [no, last, moment] = [own, seal.sha256, seal.moment];
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

/** What the database holds to be last is the last; seals that came in meanwhile follow from it. */
async function checkHead(tell: Tell, head: Witness): Promise<void> {
  const kept = await chainHead();
  const there = await one<{ sha256: string }>("select sha256 from seals where no = $1", [kept.no]);
  if (kept.no < head.no)
    tell({ kind: "link", says: `The database holds seal ${kept.no} to be the last; there are ${head.no}` });
  else if ((there?.sha256 ?? NOTHING) !== kept.sha256)
    tell({ kind: "link", says: "The last seal is not the one that the database holds to be last" });
}

/**
 * The text that a seal is over, computed from the row itself by what PostgreSQL brings with it: nothing of this database's
 * own making, which its owner could have made otherwise.
 */
export function sealedText({ free = [] }: Pick<SealedKind, "free">): string {
  const row = "pg_catalog.to_jsonb(t)";
  const names = free.map((name) => `'${name}'`).join(", ");
  const left = free.length === 0 ? row : `(${row} operator(pg_catalog.-) array[${names}]::text[])`;
  return `pg_catalog.jsonb_strip_nulls(${left})::text`;
}

/** The row that a seal is of. A key that is none leads to no row, and does not end the look. */
function rowOfSeal({ key = ["id"] }: SealedKind): string {
  const parts = key.map((column, i) => {
    const part = key.length === 1 ? "s.key" : `pg_catalog.split_part(s.key, '/', ${i + 1})`;
    return `t.${column} = case when ${part} ~ '^[0-9]{1,9}$' then ${part}::bigint end`;
  });
  const whole = key.map((column) => `t.${column}`).join(" || '/' || ");
  return [...parts, `s.key = (${whole})::text`].join(" and ");
}

const keyOfRow = ({ key = ["id"] }: SealedKind) => `(${key.map((column) => `t.${column}`).join(" || '/' || ")})::text`;

/** Each sealed row is there and is what its seal says. */
async function checkRows(kind: string, of: SealedKind, tell: Tell): Promise<void> {
  const { table, state, keptDays } = of;
  const newest = state
    ? "and not exists (select 1 from seals l where l.kind = s.kind and l.key = s.key and l.no > s.no)"
    : "";
  for (let after = "0"; ;) {
    const some = await rows<{ no: string; key: string; row_sha256: string; text: string | null; old: boolean }>(
      `select s.no, s.key, s.row_sha256, case when t.tableoid is not null then ${sealedText(of)} end as text,
         s.at < now() - make_interval(days => $4) as old
       from seals s left join ${table} t on ${rowOfSeal(of)}
       where s.kind = $1 and s.no > $2 ${newest} order by s.no limit $3`,
      [kind, after, PAGE, (keptDays ?? 0) - 1],
    );
    for (const { key, row_sha256: sealed, text, old } of some)
      if (text === null) {
        if (keptDays === undefined || !old) tell({ kind: "removed", says: `${table} ${key} was taken out` });
      } else if (hash(text) !== sealed)
        tell({ kind: "changed", says: `${table} ${key} was ${state ? "changed without an entry" : "rewritten"}` });
    const last = some.at(-1);
    if (!last || some.length < PAGE) break;
    after = last.no;
  }
}

/** Each row is sealed, once for each thing that happened to it. */
async function checkSealed(kind: string, of: SealedKind, tell: Tell): Promise<void> {
  const { table, must = "true", state } = of;
  const loose = await rows<{ row: string }>(
    `select pg_catalog.to_jsonb(t)::text as row from ${table} t
     where ${must} and not exists (select 1 from seals s where s.kind = $1 and s.key = ${keyOfRow(of)}) limit $2`,
    [kind, MOST_FAULTS],
  );
  for (const { row } of loose)
    tell({ kind: "unsealed", says: `${table} has a row that was put in past the chain: ${row.slice(0, 160)}` });
  if (state) return;
  const twice = await rows<{ key: string; n: number }>(
    "select key, count(*)::int as n from seals where kind = $1 group by key having count(*) > 1 limit $2",
    [kind, MOST_FAULTS],
  );
  for (const { key, n } of twice) tell({ kind: "unsealed", says: `${table} ${key} is sealed ${n} times` });
}

/** A row says when it was made; its seal, which the database makes by itself, says so too. */
async function checkTimes(kind: string, of: SealedKind, tell: Tell): Promise<void> {
  const { table, madeAt, madeThen = "true", since = "began" } = of;
  if (madeAt === undefined) return;
  const odd = await rows<{ key: string; at: Date | null; sealed: Date }>(
    `select s.key, t.${madeAt} as at, s.at as sealed from seals s join ${table} t on ${rowOfSeal(of)}
     where s.kind = $1 and ${madeThen} and abs(extract(epoch from s.at - t.${madeAt})) > ${SLACK_S}
       and s.no > coalesce((select no from seals where kind = 'chain' and key = $3), 0) limit $2`,
    [kind, MOST_FAULTS, since],
  );
  for (const { key, at, sealed } of odd)
    tell({
      kind: "back-dated",
      says: `${table} ${key} says ${at?.toISOString() ?? "nothing"}, but was written ${sealed.toISOString()}`,
    });
}

/** Stored bytes that something names by their hash are there, and as many as it was said. What they hold is looked at by `damagedBlobs`. */
async function checkPapers(tell: Tell): Promise<void> {
  const missing = await rows<{ what: string; name: string }>(
    `select * from (
       select 'journal ' || t.bench_id || '/' || t.no as what, named.m[1] as name
         from journal t, regexp_matches(t.entry::text, 'Sha"\\s*:\\s*"([0-9a-f]{64})"', 'g') as named(m)
       union all select 'backup ' || name, sha256 from backups
       union all select 'image of ' || release_id || ' for ' || target, sha256 from images
     ) n where not exists (select 1 from blobs b where b.sha256 = n.name) limit $1`,
    [MOST_FAULTS],
  );
  for (const { what, name } of missing)
    tell({ kind: "paper", says: `${what} names stored bytes that are not there: ${name}` });
  const sizes = await rows<{ sha256: string; size: number; held: number }>(
    `select sha256, size_bytes as size, pg_catalog.octet_length(bytes) as held from blobs
     where size_bytes <> pg_catalog.octet_length(bytes) limit $1`,
    [MOST_FAULTS],
  );
  for (const { sha256, size, held } of sizes)
    tell({ kind: "changed", says: `The stored bytes ${sha256} are said to be ${size}; ${held} are there` });
}

/** Empty fields are left out of what is sealed; so entries have none, and one that was put in is told. */
async function checkEmptyFields(tell: Tell): Promise<void> {
  const odd = await rows<{ what: string }>(
    `select * from (
       select 'journal ' || bench_id || '/' || no as what, entry as held from journal
       union all select 'jobs ' || id, goal from jobs union all select 'jobs ' || id, steps from jobs
       union all select 'campaigns ' || id, goal from campaigns
       union all select 'visit_statements ' || job_id, says from visit_statements
     ) n where held @? '$.** ? (@ == null)' limit $1`,
    [MOST_FAULTS],
  );
  for (const { what } of odd) tell({ kind: "changed", says: `${what} has an empty field, which nothing writes` });
}

/**
 * Holds everything that is kept for good against the chain of seals: whatever was rewritten, taken out, put in past it or
 * back-dated is named. A part that cannot be looked at is told as that, and the others are looked at all the same. Whoever
 * owns the database could make the whole chain anew; what was written down of it outside (`witnesses`) shows that.
 */
export async function verifyChain(witnesses: readonly Witness[] = []): Promise<ChainReport> {
  const faults: ChainFault[] = [];
  const notes: string[] = [];
  const tell: Tell = (fault) => {
    if (faults.length < MOST_FAULTS) faults.push(fault);
  };
  const part = async (what: string, look: () => Promise<void>): Promise<void> => {
    try {
      await look();
    } catch (error) {
      const { message, detail } = problemOf(error);
      tell({ kind: "unread", says: `${what} could not be looked at: ${[message, detail].filter(Boolean).join(", ")}` });
    }
  };
  let head: Witness = { no: 0, sha256: NOTHING };
  await part("The chain of seals", async () => {
    // what comes in meanwhile is looked at the next time
    head = await checkLinks(tell, (says) => notes.push(says), witnesses);
    await checkHead(tell, head);
  });
  for (const [kind, of] of Object.entries(KINDS)) {
    if (!of) continue;
    await part(`${of.table} (${kind})`, async () => {
      await checkRows(kind, of, tell);
      await checkSealed(kind, of, tell);
      await checkTimes(kind, of, tell);
    });
  }
  await part("Stored bytes", () => checkPapers(tell));
  await part("Fields of entries", () => checkEmptyFields(tell));
  return { seals: head.no, head, faults, notes };
}
