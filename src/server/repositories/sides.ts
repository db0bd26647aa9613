import type { Compared } from "@/core/compare";
import { findTarget, releaseById, releaseTitle } from "@/core/catalog";
import { defaultConfiguration } from "@/core/idiom";
import { ProblemError, valueOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { isSpoilt } from "@/server/repositories/blobs";
import { readingOf } from "@/server/repositories/readings";
import { newestStandards, standardById } from "@/server/repositories/standards";
import { literal, Op } from "sequelize";
import { READ_OUT } from "@/server/models";
import { backupsNamed } from "@/server/repositories/backups";
import { first, likeText, list } from "@/server/sql";
import type { SideChoice } from "@/contracts/answers/found";

/** One side of a comparison, as a link names it: `aircraft:TAG`, `backup:12`, `standard:3`, `defaults:RELEASE@TARGET`. */
export interface Side extends Compared {
  readonly ref: string;
  readonly title: string;
  readonly tag: string | null;
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
      const newest = await first(getDb().Backup, {
        where: { source: [...READ_OUT] },
        attributes: ["id"],
        include: [{ association: "aircraft", attributes: [], where: { tag: name }, required: true }],
        order: [literal(`"Backup".verdict = 'complete' desc`), ["taken_at", "desc"]],
      });
      if (!newest)
        throw new ProblemError({
          code: "side-bare",
          message: `No read-out of ${name} is on file`,
          hint: "Back it up on the bench, or file a read-out",
        });
      return { ...(await backupSide(ref, newest.id)), title: `${name}, newest read-out` };
    }
    case "standard": {
      const standard = await standardById(/^\d{1,9}$/.test(name) ? Number(name) : 0);
      if (!standard) throw none(ref);
      const side = await backupSide(ref, standard.backup_id);
      return { ...side, title: `${standard.type} standard ${standard.version}`, tag: null };
    }
    case "defaults": {
      const [releaseId = "", target = ""] = name.split("@");
      const release = valueOf(releaseById(await loadCatalogue(), releaseId));
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
  const [catalogue, aircraft, backups, standards] = await Promise.all([
    loadCatalogue(),
    list(getDb().Aircraft, {
      where: { last_at: { [Op.ne]: null }, [Op.or]: [{ tag: says }, { label: says }, { type: says }] },
      attributes: ["tag", "label"],
      order: ["tag"],
      limit: MOST,
    }),
    backupsNamed(wanted, MOST),
    newestStandards(),
  ]);
  return [
    ...aircraft.map((a) => ({
      group: "Aircraft, newest read-out",
      ref: `aircraft:${a.tag}`,
      title: `${a.tag} ${a.label}`.trim(),
    })),
    ...standards
      .map((s) => ({ group: "Standards", ref: `standard:${s.id}`, title: `${s.type} standard ${s.version}` }))
      .filter(({ title }) => fits(title))
      .slice(0, MOST),
    ...[...catalogue.releases.values()]
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
): Promise<{ id: number; sha256: string; taken_at: Date; name: string; verdict: string }[]> =>
  list(getDb().Backup, {
    where: { aircraft_id: aircraftId, source: [...READ_OUT], verdict: ["complete", "moved-only"] },
    attributes: ["id", "sha256", "taken_at", "name", "verdict"],
    order: [["taken_at", "desc"]],
    limit: HISTORY_READINGS,
  });

/** Which of them were passed over: their bytes are damaged. */
export async function passedOver(
  aircraftId: number,
  read: readonly { readonly id: number }[],
): Promise<{ id: number; name: string }[]> {
  const there = new Set(read.map(({ id }) => id));
  return (await newestOf(aircraftId)).filter(({ id }) => !there.has(id)).map(({ id, name }) => ({ id, name }));
}

/** The newest read-outs of an aircraft that can be read, oldest first; one whose bytes are damaged is passed over. */
export async function readingsOf(
  aircraftId: number,
): Promise<
  (Compared & { readonly id: number; readonly at: number; readonly name: string; readonly verdict: string })[]
> {
  const backups = await newestOf(aircraftId);
  const readings = [];
  for (const { id, sha256, taken_at, name, verdict } of backups.toReversed()) {
    const reading = await readingOf(sha256).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (!reading) continue;
    const { configuration, release } = reading;
    readings.push({ id, at: taken_at.getTime(), name, verdict, configuration, release });
  }
  return readings;
}
