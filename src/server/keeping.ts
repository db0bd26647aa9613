import { damagedBlobs, scrubSome, type Damaged } from "@/server/repositories/blobs";
import { chainHead, verifyChain, type ChainReport, type Witness } from "@/server/chain";
import { copiesKept } from "@/server/env";
import { Op } from "sequelize";
import { getDb } from "@/server/db";
import type { Keeping } from "@/server/models";
import { first, list, notify, one, rows, type Row } from "@/server/sql";
import { bearWitness, readWitnesses } from "@/server/witness";

/** A copy that is older than this is told of. */
const OLD_COPY_MS = 3 * 86_400_000;

export type Kept = Row<Keeping>;
const KINDS = ["copy", "chain", "bytes"] as const satisfies readonly Kept["kind"][];
export type KeepingKind = (typeof KINDS)[number];

const NEWEST_FIRST: [string, string][] = [["id", "desc"]];

export async function noteKeeping(kind: KeepingKind, good: boolean, says: string, facts: object = {}): Promise<void> {
  await getDb().Keeping.create({ kind, good, says: says.slice(0, 1000), facts: { ...facts } });
}

/** The last of each kind, and of copies the last good one. */
export async function lastKeeping(): Promise<Partial<Record<KeepingKind | "good-copy", Kept>>> {
  const last = (where: Partial<Pick<Kept, "kind" | "good">>) => first(getDb().Keeping, { where, order: NEWEST_FIRST });
  const found = await Promise.all(KINDS.map((kind) => last({ kind })));
  const good = await last({ kind: "copy", good: true });
  return {
    ...Object.fromEntries(found.flatMap((each) => (each ? [[each.kind, each]] : []))),
    ...(good ? { "good-copy": good } : {}),
  };
}

export const keepingLog = (limit: number): Promise<Kept[]> => list(getDb().Keeping, { order: NEWEST_FIRST, limit });

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
  const { DamagedBlob } = getDb();
  const names = damaged.map(({ sha256 }) => sha256);
  const seen = { [Op.gt]: looked.after, ...(looked.last === undefined ? {} : { [Op.lte]: looked.last }) };
  await DamagedBlob.destroy({ where: { sha256: { ...seen, [Op.notIn]: names } } });
  await DamagedBlob.bulkCreate(
    names.map((sha256) => ({ sha256 })),
    { ignoreDuplicates: true },
  );
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

/** Files that are known to be damaged, with what uses them: rows of two tables that have only the hash in common. */
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
export const askKeeper = (what: "copy" | "look"): Promise<void> => notify("keeper", what);

/** The database's own word on whether the application runs under the account that owns its tables, and so could switch off what guards them. */
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
