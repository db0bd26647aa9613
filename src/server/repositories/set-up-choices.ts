import {
  adviceOn,
  baselineDifferences,
  isLost,
  openDecisions,
  partsNobodySet,
  planUpdate,
  routeBetween,
  type Whose,
} from "@/core/carryover";
import { findRelease, findTarget, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { defaultConfiguration, type Recital } from "@/core/idiom";
import type { BayLive } from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { lacksOfBackup, lastComplete, newestComplete, readableBackup, whoseIs } from "@/server/repositories/backups";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { readingOf } from "@/server/repositories/readings";
import { Op } from "sequelize";
import { getDb } from "@/server/db";
import { exists } from "@/server/sql";
import type { SetUpChoices, SetUpWay, WayBack } from "@/contracts/answers/choices";

interface Ground {
  readonly chosen: Recital;
  readonly whose: Whose;
  readonly target: string;
  readonly newest: Recital | undefined;
  readonly catalogue: Catalogue;
}

const withImage = async (releaseId: string, target: string) =>
  exists(getDb().ImageRow, { release_id: releaseId, target });

async function wayOn(release: Release, runs: boolean, ground: Ground): Promise<SetUpWay> {
  const { chosen, whose, target, newest, catalogue } = ground;
  const plain = {
    releaseId: release.id,
    title: releaseTitle(release),
    runs,
    decisions: 0,
    lost: 0,
    parts: {},
    advice: { scope: "everything", because: "" } as const,
    starters: release.starters.map(({ name, airframe }) => ({ name, airframe })),
    profiles: release.profiles,
    areas: release.areas,
  };
  const built = findTarget(release, target);
  if (!built) return { ...plain, lack: `it is not built for ${target}` };
  if (!runs && !(await withImage(release.id, built.id)))
    return { ...plain, lack: `no image of it for ${built.id} is in the workshop` };
  const plan = planUpdate(chosen, release, built.id, catalogue, whose);
  if (!plan.ok) return { ...plain, lack: plan.problem.message };
  const own = newest && planUpdate(newest, release, built.id, catalogue);
  const route = routeBetween(catalogue, chosen.release, release);
  const joined = route.ok && route.value.some(({ by }) => by === "shared meanings");
  const defaults = { configuration: defaultConfiguration(release, built.id, { target: built.id }), release };
  const bare = planUpdate(defaults, release, built.id, catalogue);
  return {
    ...plain,
    decisions: openDecisions(plan.value, {}),
    lost: plan.value.items.filter(isLost).length,
    advice: adviceOn(plan.value, joined),
    ...(own?.ok ? { differences: baselineDifferences(plan.value, own.value, release) } : {}),
    parts: own?.ok && bare.ok && whose === "another" ? partsNobodySet(plan.value, own.value, bare.value, release) : {},
  };
}

async function boardIn(bayNo: number): Promise<{ bay: BayLive; aircraftId: number }> {
  const bay = (await readBay(bayNo))?.live;
  if (bay?.aircraftId === undefined)
    throw new ProblemError({
      code: "bay-nobodys",
      message: "No aircraft’s board is in this bay",
      hint: "Plug one in and say whose it is",
    });
  return { bay, aircraftId: bay.aircraftId };
}

/** On which releases the board in a bay can be set up as a backup says: the one that it runs, and that of the backup. */
export async function setUpChoices(bayNo: number, backupId: number): Promise<SetUpChoices> {
  const { bay, aircraftId } = await boardIn(bayNo);
  const backup = await readableBackup(backupId);
  const catalogue = await loadCatalogue();
  const aircraft = await aircraftById(aircraftId);
  const chosen = await readingOf(backup.sha256);
  const newest = await lastComplete(aircraftId);
  const here = findRelease(catalogue, bay.family, bay.release);
  const from = valueOf(releaseById(catalogue, chosen.release.id));
  const ground: Ground = {
    chosen,
    whose: whoseIs(backup, aircraftId, bay.chipId),
    target: bay.target ?? aircraft?.target ?? "",
    newest: newest && (await readingOf(newest.sha256)),
    catalogue,
  };
  const ways = [
    ...(here.ok ? [await wayOn(here.value, true, ground)] : []),
    ...(here.ok && here.value.id === from.id ? [] : [await wayOn(from, false, ground)]),
  ];
  return {
    aircraftId,
    tag: aircraft?.tag ?? "",
    whose: ground.whose,
    commissions: !here.ok && newest === undefined,
    ways,
    lacks: lacksOfBackup(backup),
  };
}

/** The pair that the board in a bay came from: its newest backup of a visit on another release, and that release's image. */
export async function wayBackOf(
  bay: BayLive,
  here: Release,
  target: string,
  catalogue: Catalogue,
): Promise<WayBack | undefined> {
  const before = await newestComplete({
    aircraft_id: bay.aircraftId ?? 0,
    chip_id: bay.chipId ?? "",
    source: "job",
    release_id: { [Op.ne]: here.id },
  });
  const release = before && catalogue.releases.get(before.release_id);
  // what it runs in between may be a neighbour’s: it goes back to what it was itself
  const built = release && (findTarget(release, target) ?? findTarget(release, before.target ?? ""));
  if (!built || !(await withImage(release.id, built.id))) return undefined;
  const newest = await lastComplete(bay.aircraftId ?? 0);
  const now = newest && planUpdate(await readingOf(newest.sha256), release, built.id, catalogue);
  const then = planUpdate(await readingOf(before.sha256), release, built.id, catalogue);
  const differs =
    now?.ok && then.ok
      ? baselineDifferences(then.value, now.value, release).reduce((sum, { shared, own }) => sum + shared + own, 0)
      : undefined;
  return {
    backupId: before.id,
    name: before.name,
    releaseId: release.id,
    title: releaseTitle(release),
    ...(differs === undefined ? {} : { differs }),
  };
}
