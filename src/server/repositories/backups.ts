import type { Whose } from "@/core/carryover";
import { releaseTitle, sameChip, type Catalogue } from "@/core/catalog";
import type { Recital } from "@/core/idiom";
import type { Finding } from "@/core/idiom";
import { saidByName } from "@/core/part";
import { ProblemError } from "@/core/problem";
import { Op, type Includeable, type Transaction, type WhereOptions } from "sequelize";
import { getDb } from "@/server/db";
import { holdFence } from "@/server/repositories/bench";
import { getBlob, isSpoilt, putBlob, sha256 } from "@/server/repositories/blobs";
import { readingOf, recogniseBytes, toldOf, type ToldAs } from "@/server/repositories/readings";
import { first, inTransaction, list, type Row } from "@/server/sql";
import { READ_OUT, type Backup } from "@/server/models";

/** A part behind the board, of which something is filed. */
export interface FiledPart {
  readonly name: string;
  readonly place: string;
  /** The read-out of the board that it was taken with. */
  readonly withId?: number;
}

const partColumns = (part: FiledPart | undefined) =>
  part ? { part: part.name, place: part.place, with_id: part.withId ?? null } : {};
/** “QW-01 front left”: whose it is. */
const ownerName = ({ tag, part }: Pick<NewBackup, "tag" | "part">) => (part ? `${tag} ${part.place}` : tag);

export interface NewBackup {
  /** What somebody says that it is, against or beside what it says itself. */
  readonly readAs?: ToldAs | undefined;
  readonly raw: Uint8Array;
  readonly tag: string;
  readonly aircraftId: number | null;
  /** The visit that it is of: for as long as that is open. */
  readonly jobId: number | null;
  readonly chipId: string | null;
  readonly source: Backup["source"];
  readonly account: string;
  /** ISO date and time, for the name. */
  readonly at: string;
  /** When it was taken, if not now. */
  readonly takenAt?: Date;
  /** The part behind the board that it is of; absent: the main one. */
  readonly part?: FiledPart | undefined;
  /** The bench that files it: only for as long as it holds its fence. */
  readonly fence?: { readonly benchId: number; readonly fence: string };
}

/** What a read-out is called: by tag, release and when it was taken. */
export const backupName = (tag: string, what: string, at: string): string =>
  `${tag} ${what} ${at.slice(0, 16).replace("T", " ")}`;

const NEWEST_FIRST: [string, string][] = [
  ["taken_at", "desc"],
  ["id", "desc"],
];

/** A read-out that says which release it is of. */
export type ReleasedBackup = Row<Backup> & { readonly release_id: string };

/** The newest complete read-out that says its release, of those that fit. */
export async function newestComplete(
  where: WhereOptions<Backup>,
  include: Includeable[] = [],
): Promise<ReleasedBackup | undefined> {
  const whole = { verdict: "complete", release_id: { [Op.ne]: null }, source: [...READ_OUT] };
  const found = await first(getDb().Backup, {
    where: { [Op.and]: [whole, where] },
    ...(include.length > 0 ? { include } : {}),
    order: NEWEST_FIRST,
  });
  return found?.release_id ? { ...found, release_id: found.release_id } : undefined;
}

/** The newest complete read-out of an aircraft, on whatever release it ran. */
export const lastComplete = (aircraftId: number): Promise<ReleasedBackup | undefined> =>
  newestComplete({ aircraft_id: aircraftId });

/** What a new aircraft of a type is set up as: the type's standard, or else the newest complete backup of another one. */
export async function sourceOfType(
  type: string,
): Promise<{ id: number; release_id: string; name: string; sha256: string; standard: boolean } | undefined> {
  const standard = await first(getDb().StandardRow, {
    where: { type },
    include: [{ association: "backup", required: true, where: { release_id: { [Op.ne]: null } } }],
    order: [["version", "desc"]],
  });
  const { backup } = standard ?? {};
  if (backup?.release_id) {
    const { id, release_id, name, sha256: hash } = backup;
    return { id, release_id, name, sha256: hash, standard: true };
  }
  const newest = await newestComplete({}, [
    { association: "aircraft", attributes: [], where: { type }, required: true },
  ]);
  return newest && { ...newest, standard: false };
}

/**
 * The visit that a backup is of, if it is still open: what is read while somebody stops the job stays on file for the
 * aircraft, and the papers of the visit stay as they were sealed. Whoever ends the job waits for this transaction.
 */
async function openVisit(
  { jobId, fence }: Pick<NewBackup, "jobId" | "fence">,
  transaction: Transaction,
): Promise<number | null> {
  if (fence) await holdFence(fence.benchId, fence.fence, transaction);
  if (jobId === null) return null;
  const open = await first(getDb().Job, {
    where: { id: jobId, state: "open" },
    attributes: ["id"],
    lock: transaction.LOCK.SHARE,
    transaction,
  });
  return open?.id ?? null;
}

/** Files a read-out: its bytes by hash, its identity and completeness beside them. It can never be changed again. */
export async function fileBackup(
  backup: NewBackup,
  catalogue?: Catalogue,
): Promise<{ id: number; name: string; recital: Recital }> {
  const { recital } = await recogniseBytes(backup.raw, catalogue, backup.readAs ?? (await toldOf(sha256(backup.raw))));
  const { completeness, release, configuration } = recital;
  const name = backupName(ownerName(backup), releaseTitle(release), backup.at);
  const id = await inTransaction(async (transaction) => {
    const jobId = await openVisit(backup, transaction);
    const hash = await putBlob(backup.raw, transaction);
    const { Backup, ReadAsRow } = getDb();
    if (backup.readAs) {
      const { releaseId: release_id, extent = null } = backup.readAs;
      await ReadAsRow.create({ sha256: hash, release_id, extent, account: backup.account }, { transaction });
    }
    const row = await Backup.create(
      {
        aircraft_id: backup.aircraftId,
        job_id: jobId,
        chip_id: backup.chipId ?? configuration.identity.chipId ?? null,
        sha256: hash,
        source: backup.source,
        name,
        release_id: release.id,
        target: configuration.identity.target ?? null,
        verdict: completeness.verdict,
        findings: completeness.findings,
        taken_by: backup.account,
        ...(backup.takenAt ? { taken_at: backup.takenAt } : {}),
        ...partColumns(backup.part),
      },
      { transaction },
    );
    return row.id;
  });
  return { id, name, recital };
}

/** The same bytes on file, for an aircraft or for any, if they are. */
export const knownCopy = (raw: Uint8Array, aircraftId?: number): Promise<{ id: number; name: string } | undefined> =>
  first(getDb().Backup, {
    where: {
      sha256: sha256(raw),
      source: { [Op.ne]: "merged" },
      ...(aircraftId === undefined ? {} : { aircraft_id: aircraftId }),
    },
    attributes: ["id", "name"],
    order: ["id"],
  });

/** Files raw bytes of a settings region, as they were read through a loader. */
export async function fileRescue(backup: NewBackup): Promise<number> {
  return inTransaction(async (transaction) => {
    const jobId = await openVisit(backup, transaction);
    const hash = await putBlob(backup.raw, transaction);
    const row = await getDb().Backup.create(
      {
        aircraft_id: backup.aircraftId,
        job_id: jobId,
        chip_id: backup.chipId,
        sha256: hash,
        source: "rescue",
        name: backupName(ownerName(backup), "settings region", backup.at),
        ...partColumns(backup.part),
        release_id: null,
        target: null,
        verdict: "raw",
        findings: [{ against: false, text: `${backup.raw.length} bytes, read through the loader` }],
        taken_by: backup.account,
      },
      { transaction },
    );
    return row.id;
  });
}

/** A backup that says what was on a board, as far as it goes. */
export async function readableBackup(backupId: number) {
  const backup = await getDb().Backup.findByPk(backupId);
  if (!backup) throw new ProblemError({ code: "backup-none", message: "There is no such backup" });
  if (backup.verdict === "raw" || backup.release_id === null)
    throw new ProblemError({
      code: "backup-raw",
      message: "No settings can be read from this backup, so no board is set up from it",
      hint: "Choose another one",
    });
  return backup;
}

/** What a backup lacks that is not complete: sentences; none for one that is. */
export const lacksOfBackup = ({
  verdict,
  findings,
}: {
  readonly verdict: string;
  readonly findings: object;
}): string[] =>
  verdict === "incomplete"
    ? (findings as readonly Finding[]).filter(({ against }) => against).map(({ text }) => text)
    : [];

/** The shortest reason that says something. */
const LEAST_REASON = 3;

/**
 * A backup that a board can be set up from: of any aircraft. One that is not complete is taken only `although` it is not:
 * by a reason, under the name of who orders it.
 */
export async function usableBackup(backupId: number, although = "") {
  const backup = await readableBackup(backupId);
  if (backup.verdict === "incomplete" && although.trim().length < LEAST_REASON)
    throw new ProblemError({
      code: "backup-incomplete",
      message: "This read-out is not complete",
      detail: lacksOfBackup(backup).join(". "),
      hint: "Choose one that is complete, or say why this one is taken all the same",
    });
  return backup;
}

/** Whose board a backup was taken of, for the board of an aircraft that is in a bay. */
export function whoseIs(
  backup: { readonly aircraft_id: number | null; readonly chip_id: string | null },
  aircraftId: number,
  chipId: string | undefined,
): Whose {
  if (backup.aircraft_id !== aircraftId) return "another";
  // a read-out that does not say is taken to be of the board that the aircraft has
  return backup.chip_id === null || chipId === undefined || sameChip(chipId, backup.chip_id)
    ? "this-board"
    : "this-aircraft";
}

async function backupRow(id: number): Promise<Backup> {
  const row = await getDb().Backup.unscoped().findByPk(id);
  if (!row) throw new ProblemError({ code: "backup-none", message: "There is no such backup" });
  return row;
}

export async function backupById(id: number): Promise<{ row: Backup; raw: Uint8Array }> {
  const row = await backupRow(id);
  return { row, raw: await getBlob(row.sha256) };
}

/** What is known of a backup without its bytes; undefined where there is none. */
export const backupKnown = (id: number): Promise<Backup | null> => getDb().Backup.unscoped().findByPk(id);

/** A backup as it reads now, or by the documents that something rests on. */
export const recitalOf = async (id: number, catalogue?: Catalogue): Promise<Recital> =>
  readingOf((await backupRow(id)).sha256, catalogue);

const SAMPLE_LINES = 60;

/** The first lines of the newest read-out, as a sample to try definitions on. */
export async function newestSample(): Promise<string> {
  const row = await first(getDb().Backup, {
    where: { source: [...READ_OUT] },
    attributes: ["sha256"],
    order: NEWEST_FIRST,
  });
  if (!row) return "";
  // a sample that cannot be read is none
  const raw = await getBlob(row.sha256).catch((error: unknown) => {
    if (isSpoilt(error)) return new Uint8Array();
    throw error;
  });
  const text = new TextDecoder().decode(raw);
  return text.split(/\r?\n/).slice(0, SAMPLE_LINES).join("\n");
}

/** Backups whose names fit a pattern, the newest first. */
export const backupsNamed = (pattern: string, limit: number): Promise<{ id: number; name: string }[]> =>
  list(getDb().Backup.unscoped(), {
    where: { verdict: { [Op.ne]: "raw" }, source: { [Op.ne]: "rescue" }, name: { [Op.iLike]: pattern } },
    attributes: ["id", "name"],
    order: [["taken_at", "desc"]],
    limit,
  });

const SUMMARY = [
  "id",
  "job_id",
  "name",
  "verdict",
  "source",
  "taken_by",
  "taken_at",
] as const satisfies readonly (keyof Row<Backup>)[];
export type BackupSummary = Row<Backup, (typeof SUMMARY)[number]>;

export const backupsOf = (aircraftId: number): Promise<BackupSummary[]> =>
  list(getDb().Backup, {
    where: { aircraft_id: aircraftId },
    attributes: SUMMARY,
    order: [["taken_at", "desc"]],
    limit: 200,
  });

/**
 * Read-outs of the parts behind a board, as they were taken with one of the board: of each part the first. What was read back
 * after it was written says how that came out, and not what was there; raw copies are not among them.
 */
export async function partsWith(backupId: number): Promise<Row<Backup>[]> {
  const where = { with_id: backupId, verdict: { [Op.ne]: "raw" } };
  const found = await list(getDb().Backup.unscoped(), { where, order: ["part", "id"] });
  return found.filter(({ part }, i) => found.findIndex((each) => each.part === part) === i);
}

/** Complete read-outs of the parts of a kind behind the board of an aircraft, the newest first. */
export async function readOutsOfParts(aircraftId: number, kind: string): Promise<{ id: number; name: string }[]> {
  const found = await list(getDb().Backup.unscoped(), {
    where: { aircraft_id: aircraftId, source: [...READ_OUT], verdict: "complete", part: { [Op.ne]: null } },
    attributes: ["id", "name", "part"],
    order: NEWEST_FIRST,
    limit: 200,
  });
  return found.filter(({ part }) => saidByName(part ?? "").part === kind).slice(0, 24);
}

/** The newest read-out of each part behind the board of an aircraft. */
export async function newestOfParts(aircraftId: number): Promise<Row<Backup>[]> {
  const found = await list(getDb().Backup.unscoped(), {
    where: { aircraft_id: aircraftId, part: { [Op.ne]: null }, source: [...READ_OUT], verdict: { [Op.ne]: "raw" } },
    order: [
      ["taken_at", "desc"],
      ["id", "desc"],
    ],
    limit: 400,
  });
  return found.filter(({ part }, i) => found.findIndex((each) => each.part === part) === i);
}
