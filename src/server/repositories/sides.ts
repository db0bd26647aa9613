import type { Compared } from "@/core/compare";
import { allFirmware, findTarget, firmwareById, LOADER_PART, partOf, releaseById, releaseTitle } from "@/core/catalog";
import { defaultConfiguration } from "@/core/idiom";
import type { PartName } from "@/core/part";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { isSpoilt } from "@/server/repositories/blobs";
import { readingOf } from "@/server/repositories/readings";
import { partsNamed } from "@/server/repositories/fleet-parts";
import { newestStandards, standardById } from "@/server/repositories/standards";
import { literal, Op } from "sequelize";
import { READ_OUT } from "@/server/models";
import { backupsNamed } from "@/server/repositories/backups";
import { first, likeText, list } from "@/server/sql";
import type { SideChoice } from "@/contracts/answers/found";

/**
 * One side of a comparison, as a link names it: `aircraft:TAG`, `aircraft:TAG/PART` (of one behind its board), `backup:12`,
 * `standard:3`, `defaults:RELEASE@TARGET`.
 */
export interface Side extends Compared {
  readonly ref: string;
  readonly title: string;
  readonly tag: string | null;
  /** The part behind the board that it was read of; null: the board itself, or nobody's. */
  readonly part: PartName | null;
  /** Where that part is; empty for a board. */
  readonly place: string;
  readonly backupId: number | null;
  readonly aircraftId: number | null;
  readonly takenAt: Date | null;
  readonly verdict: string;
}

const none = (ref: string) =>
  new ProblemError({ code: "side-none", message: "There is nothing of this name to compare", detail: ref });

async function backupSide(ref: string, id: number): Promise<Side> {
  const row = await getDb().Backup.unscoped().findByPk(id);
  if (!row || row.verdict === "raw") throw none(ref);
  const { configuration, release } = await readingOf(row.sha256);
  const aircraft = row.aircraft_id === null ? undefined : await getDb().Aircraft.findByPk(row.aircraft_id);
  return {
    ref,
    title: row.name,
    tag: aircraft?.tag ?? null,
    part: row.part as PartName | null,
    place: row.place ?? "",
    backupId: row.id,
    aircraftId: row.aircraft_id,
    takenAt: row.taken_at,
    verdict: row.verdict,
    configuration,
    release,
  };
}

/** Resolves a side by its name. Refuses names that lead to nothing. */
export async function sideOf(ref: string): Promise<Side> {
  const cut = ref.indexOf(":");
  const [kind, name] = [ref.slice(0, cut), ref.slice(cut + 1)];
  switch (kind) {
    case "backup":
      return backupSide(ref, /^\d{1,9}$/.test(name) ? Number(name) : 0);
    case "aircraft": {
      const [tag = "", part = null] = name.split("/", 2);
      const newest = await first(getDb().Backup.unscoped(), {
        where: { part, source: [...READ_OUT] },
        attributes: ["id", "place"],
        include: [{ association: "aircraft", attributes: [], where: { tag }, required: true }],
        order: [literal(`"Backup".verdict = 'complete' desc`), ["taken_at", "desc"], ["id", "desc"]],
      });
      const title = newest?.place ? `${tag} ${newest.place}` : tag;
      if (!newest)
        throw new ProblemError({
          code: "side-bare",
          message: `No read-out of ${part === null ? tag : `the ${part} of ${tag}`} is on file`,
          hint: "Back it up on the bench, or file a read-out",
        });
      return { ...(await backupSide(ref, newest.id)), title: `${title}, newest read-out` };
    }
    case "standard": {
      const standard = await standardById(/^\d{1,9}$/.test(name) ? Number(name) : 0);
      if (!standard) throw none(ref);
      const side = await backupSide(ref, standard.backup_id);
      return { ...side, title: `${standard.type} standard ${standard.version}`, tag: null };
    }
    case "defaults": {
      const [releaseId = "", target = ""] = name.split("@");
      const catalogue = await loadCatalogue();
      const release = firmwareById(catalogue, releaseId) ?? valueOf(releaseById(catalogue, releaseId));
      const found = findTarget(release, target) ?? release.targets[0];
      const identity = {
        family: release.family,
        release: release.version,
        builtOn: release.builtOn,
        ...(found ? { target: found.id } : {}),
      };
      return {
        ref,
        title: `Defaults of ${releaseTitle(release)}`,
        tag: null,
        part: null,
        place: "",
        backupId: null,
        aircraftId: null,
        takenAt: null,
        verdict: "complete",
        configuration: { ...defaultConfiguration(release, found?.id, identity), begun: [] },
        release,
      };
    }
    default:
      throw none(ref);
  }
}

/** So many of each kind are offered; more letters narrow them. */
const MOST = 16;

/** What can stand on a side and fits a few letters, without reading any of it. */
export async function sideChoices(query = ""): Promise<SideChoice[]> {
  const wanted = likeText(query.trim());
  const says = { [Op.iLike]: wanted };
  const lower = query.trim().toLowerCase();
  const fits = (title: string) => title.toLowerCase().includes(lower);
  const [catalogue, aircraft, backups, standards, parts] = await Promise.all([
    loadCatalogue(),
    list(getDb().Aircraft, {
      where: { last_at: { [Op.ne]: null }, [Op.or]: [{ tag: says }, { label: says }, { type: says }] },
      attributes: ["tag", "label"],
      order: ["tag"],
      limit: MOST,
    }),
    backupsNamed(wanted, MOST),
    newestStandards(),
    lower === "" ? [] : partsNamed(query, MOST),
  ]);
  return [
    ...aircraft.map((a) => ({
      group: "Aircraft, newest read-out",
      ref: `aircraft:${a.tag}`,
      title: `${a.tag} ${a.label}`.trim(),
    })),
    ...parts.map(({ tag, part, place }) => ({
      group: "Behind the boards, newest read-out",
      ref: `aircraft:${tag}/${part}`,
      title: `${tag} ${place}`,
    })),
    ...standards
      .map((s) => ({ group: "Standards", ref: `standard:${s.id}`, title: `${s.type} standard ${s.version}` }))
      .filter(({ title }) => fits(title))
      .slice(0, MOST),
    ...allFirmware(catalogue)
      // a loader keeps no settings that could be compared
      .filter((r) => partOf(r) !== LOADER_PART)
      .map((r) => ({ group: "Defaults of a release", ref: `defaults:${r.id}`, title: releaseTitle(r) }))
      .filter(({ title }) => fits(title))
      .slice(0, MOST),
    ...backups.map((b) => ({ group: "Backups", ref: `backup:${b.id}`, title: b.name })),
  ];
}

/** So many read-outs make a history; older ones are found by their names. */
export const HISTORY_READINGS = 60;

const newestOf = (
  aircraftId: number,
  part: PartName | null,
): Promise<{ id: number; sha256: string; taken_at: Date; name: string; verdict: string; with_id: number | null }[]> =>
  list(getDb().Backup.unscoped(), {
    where: { aircraft_id: aircraftId, part, source: [...READ_OUT], verdict: ["complete", "moved-only"] },
    attributes: ["id", "sha256", "taken_at", "name", "verdict", "with_id"],
    order: [
      ["taken_at", "desc"],
      ["id", "desc"],
    ],
    limit: HISTORY_READINGS,
  });

/** Which of them were passed over: their bytes are damaged. */
export async function passedOver(
  aircraftId: number,
  read: readonly { readonly id: number }[],
  part: PartName | null = null,
): Promise<{ id: number; name: string }[]> {
  const there = new Set(read.map(({ id }) => id));
  return (await newestOf(aircraftId, part)).filter(({ id }) => !there.has(id)).map(({ id, name }) => ({ id, name }));
}

/** A read-out in the history of an aircraft, or of a part of it. */
export interface HistoryReading extends Compared {
  readonly id: number;
  /** Ms since 1970. */
  readonly at: number;
  readonly name: string;
  readonly verdict: string;
  /** Of a part: the read-out of the board that it was taken with. */
  readonly withId: number | null;
}

/** The newest read-outs of an aircraft, or of a part of it, that can be read, oldest first; one whose bytes are damaged is passed over. */
export async function readingsOf(aircraftId: number, part: PartName | null = null): Promise<HistoryReading[]> {
  const backups = await newestOf(aircraftId, part);
  const readings: HistoryReading[] = [];
  for (const { id, sha256, taken_at, name, verdict, with_id: withId } of backups.toReversed()) {
    const reading = await readingOf(sha256).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (!reading) continue;
    const { configuration, release } = reading;
    readings.push({ id, at: taken_at.getTime(), name, verdict, withId, configuration, release });
  }
  return readings;
}
