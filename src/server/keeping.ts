import { damagedBlobs, scrubSome, type Damaged } from "@/server/repositories/blobs";
import { chainHead, verifyChain, type ChainReport, type Witness } from "@/server/chain";
import { copiesKept } from "@/server/env";
import { jsonText, one, rows, run } from "@/server/sql";
import { bearWitness, readWitnesses } from "@/server/witness";

/** A copy that is older than this is told of. */
const OLD_COPY_MS = 3 * 86_400_000;

export type KeepingKind = "copy" | "chain" | "bytes";

export interface Kept {
  readonly kind: KeepingKind;
  readonly at: Date;
  readonly good: boolean;
  readonly says: string;
  readonly facts: Readonly<Record<string, unknown>>;
}

export const noteKeeping = (kind: KeepingKind, good: boolean, says: string, facts: object = {}): Promise<void> =>
  run("insert into keeping (kind, good, says, facts) values ($1, $2, $3, $4)", [
    kind,
    good,
    says.slice(0, 1000),
    jsonText(facts),
  ]);

/** The last of each kind, and of copies the last good one. */
export async function lastKeeping(): Promise<Partial<Record<KeepingKind | "good-copy", Kept>>> {
  const found = await rows<Kept & { as: KeepingKind | "good-copy" }>(
    `select distinct on (kind) kind as as, kind, at, good, says, facts from keeping order by kind, id desc`,
  );
  const good = await one<Kept>(
    "select kind, at, good, says, facts from keeping where kind = 'copy' and good order by id desc limit 1",
  );
  return { ...Object.fromEntries(found.map((each) => [each.as, each])), ...(good ? { "good-copy": good } : {}) };
}

export const keepingLog = (limit: number): Promise<Kept[]> =>
  rows("select kind, at, good, says, facts from keeping order by id desc limit $1", [limit]);

/** Holds the chain against what it seals and against what was written down of it; writes the last seal down. */
export async function lookAtChain(): Promise<ChainReport> {
  const report = await verifyChain(readWitnesses());
  const good = report.faults.length === 0;
  await noteKeeping(
    "chain",
    good,
    good
      ? [
          `${report.seals} seals, and everything that they are on, are as they were made`,
          ...report.notes.slice(-3),
        ].join(". ")
      : `${report.faults.length} disagreements: ${report.faults
          .slice(0, 3)
          .map(({ says }) => says)
          .join("; ")}`,
    { head: report.head, faults: report.faults.slice(0, 50) },
  );
  // a chain that was tampered with is not vouched for
  if (good) bearWitness(report.head, new Date());
  return report;
}

export const writeDownHead = async (): Promise<void> => bearWitness(await chainHead(), new Date());

async function keepDamaged(
  damaged: readonly Damaged[],
  looked: { readonly after: string; readonly last: string | undefined },
): Promise<void> {
  // what is whole again is no longer among them
  await run(
    "delete from damaged_blobs where sha256 > $1 and ($2::text is null or sha256 <= $2) and sha256::text <> all($3::text[])",
    [looked.after, looked.last ?? null, damaged.map(({ sha256 }) => sha256)],
  );
  for (const { sha256 } of damaged)
    await run("insert into damaged_blobs (sha256) values ($1) on conflict do nothing", [sha256]);
}

/** One step of the round over all stored bytes. */
export interface Round {
  readonly after: string;
  readonly looked: number;
  readonly damaged: number;
}
export const NEW_ROUND: Round = { after: "", looked: 0, damaged: 0 };

export async function scrubStep(round: Round): Promise<Round> {
  const { damaged, looked, last } = await scrubSome(round.after);
  await keepDamaged(damaged, { after: round.after, last });
  const so = { looked: round.looked + looked, damaged: round.damaged + damaged.length };
  if (last !== undefined) return { ...so, after: last };
  await noteKeeping(
    "bytes",
    so.damaged === 0,
    so.damaged === 0
      ? `All ${so.looked} stored files are what their hashes say`
      : `${so.damaged} of ${so.looked} stored files are damaged`,
    so,
  );
  return NEW_ROUND;
}

/** Files that are known to be damaged, with what uses them. */
export const knownDamage = (): Promise<
  { sha256: string; found_at: Date; backup_id: number | null; name: string | null }[]
> =>
  rows(
    `select d.sha256, d.found_at, b.id as backup_id, coalesce(b.name, 'image of ' || i.release_id || ' for ' || i.target) as name
     from damaged_blobs d left join backups b on b.sha256 = d.sha256 left join images i on i.sha256 = d.sha256
     order by d.found_at, b.id limit 200`,
  );

/** Everything at once, for bin/verify: faults of the chain and damaged bytes. `seals`: further ones that somebody wrote down. */
export async function verifyAll(seals: readonly Witness[] = []): Promise<{ report: ChainReport; damaged: Damaged[] }> {
  return { report: await verifyChain([...readWitnesses(), ...seals]), damaged: await damagedBlobs() };
}

/** What is asked of the keeper from outside its own hours. */
export const askKeeper = (what: "copy" | "look"): Promise<void> =>
  run("select pg_notify('fresh_start_keeper', $1)", [what]);

/** Whether the application runs under the account that owns its tables, and so could switch off what guards them. */
export const ownsItsTables = async (): Promise<boolean> =>
  (
    await one<{ owns: boolean }>(
      "select pg_has_role(current_user, relowner, 'usage') as owns from pg_class where oid = 'seals'::regclass",
    )
  )?.owns ?? false;

/** A clock may be off by so much. */
const CLOCK_SLACK = "2 minutes";

/** When the newest thing that is kept was written, where the database's clock stands before that. */
const writtenAhead = async (): Promise<Date | undefined> =>
  (
    await one<{ at: Date }>(
      `select at from seals where no = (select max(no) from seals) and at > now() + interval '${CLOCK_SLACK}'`,
    )
  )?.at;

/** What a lead has to be told without asking; undefined when all is well. */
export async function keepingTrouble(now: number): Promise<string | undefined> {
  const [last, ahead] = await Promise.all([lastKeeping(), writtenAhead()]);
  if (ahead)
    return `The machine’s clock stands before the newest entry of the record, of ${ahead.toISOString().slice(0, 16).replace("T", " ")} UTC: set it right.`;
  if (last.chain?.good === false) return "The record does not agree with its chain of seals.";
  if (last.bytes?.good === false) return "Stored files are damaged.";
  const copy = last["good-copy"];
  if (copiesKept() === 0 || !last.copy) return undefined;
  if (!copy) return "No copy of this workshop could be made yet.";
  return now - copy.at.getTime() > OLD_COPY_MS
    ? "The last copy of this workshop is more than three days old."
    : undefined;
}
