import {
  findTarget,
  lets,
  LOADER_PART,
  meeting,
  releaseTitle,
  type Catalogue,
  type Firmware,
  type Release,
  type Requirement,
} from "@/core/catalog";
import type { WishOf } from "@/contracts/job-wish";
import { nearestTargets, type Nearness } from "@/core/identify";
import { routeBetween } from "@/core/carryover";
import type { BayLive, Detour, PartSource } from "@/core/job";
import { saidByName, wayTo, type FittedPart, type PartName } from "@/core/part";
import { ProblemError, valueOf } from "@/core/problem";
import { backupKnown, lacksOfBackup } from "@/server/repositories/backups";
import { hasImage, loadImage } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import type { RegisterRow } from "@/server/repositories/fleet";
import { partsOfAircraft, partStates } from "@/server/repositories/fittings";
import { releaseInBay, type SettledGoal } from "@/server/repositories/settled";

/**
 * The parts behind the board that a release cannot drive as they were read last: each with the release nearest to what it
 * runs that it can, of which an image for it is here. What was never read, or no firmware leads to, the plan tells of.
 */
export async function partsDue(
  aircraft: RegisterRow,
  here: Release,
  to: Release,
  catalogue: Catalogue,
): Promise<{ runs: Record<PartName, string>; fitted: FittedPart[] }> {
  const runs: Record<PartName, string> = {};
  const fitted: FittedPart[] = [];
  const { parts } = await partStates(aircraft.id, aircraft.model_id);
  for (const { part, read } of parts) {
    const requirement = to.requires.find((each) => each.part === part.part);
    const led = wayTo(here, part.part) && wayTo(to, part.part);
    if (!read || !requirement || !led || meets(read.release, requirement)) continue;
    const driven = meeting(catalogue, requirement);
    const nearest = Number(read.release.version) < requirement.least ? driven[0] : driven.at(-1);
    const target = read.target ?? part.target;
    if (!nearest || target === undefined || (part.target ?? target) !== target) continue;
    if (!(await hasImage(nearest.id, target))) continue;
    runs[part.name] = nearest.id;
    fitted.push(part);
  }
  return { runs, fitted };
}

const meets = ({ family, version }: Firmware, requirement: Requirement): boolean =>
  family === requirement.family && lets(requirement, Number(version));

/** The parts behind the board, read out together; those that are named are brought to a release, each by the code that it has. */
export async function settleParts(
  { runs, sources = {}, detour: by }: WishOf<"parts">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const release = releaseInBay(catalogue, bay);
  const all = await partsOfAircraft(aircraft.id, aircraft.model_id);
  const unknown = Object.keys(runs).find((name) => !all.some((each) => each.name === name));
  if (unknown !== undefined)
    throw new ProblemError({
      code: "part-none",
      message: `${aircraft.tag} has no “${unknown}”`,
      detail: `It has ${all.map(({ name }) => name).join(", ") || "no other parts"}`,
    });
  const own = bay.ownTarget ?? bay.target ?? "";
  const detour = by === undefined ? undefined : await detourBy(by, all, release, own, catalogue);
  const speaks = catalogue.releases.get(detour?.releaseId ?? "") ?? release;
  const fitted = all.filter(({ part }) => wayTo(speaks, part) !== undefined);
  const shut = all.find(({ name, part }) => wayTo(speaks, part) === undefined && (name in runs || fitted.length === 0));
  if (shut || fitted.length === 0)
    throw noWay(
      speaks,
      shut?.part,
      (await detoursFor(all, release, own, catalogue)).filter(({ leads }) => shut && leads.includes(shut.part)),
    );
  for (const { name, target } of fitted) {
    const to = runs[name] === undefined ? undefined : catalogue.parts.get(runs[name]);
    if (runs[name] === undefined) continue;
    if (to?.part !== fitted.find((each) => each.name === name)?.part)
      throw new ProblemError({
        code: "release-unknown",
        message: `No release “${runs[name]}” is for the ${name}`,
        hint: "Choose one of its own",
      });
    if (target !== undefined) await loadImage(catalogue, to?.id ?? "", target);
  }
  const setUpAs = await settleSources(sources, runs, fitted, aircraft.id, catalogue);
  const titles = [...new Set(Object.values(runs))].map((id) => {
    const to = catalogue.parts.get(id);
    return to ? releaseTitle(to) : id;
  });
  return {
    goal: {
      kind: "parts",
      runs: { main: release.id, ...runs },
      fitted,
      ...(detour ? { detour } : {}),
      ...(Object.keys(setUpAs).length > 0 ? { sources: setUpAs } : {}),
    },
    release,
    headline: `${titles.length === 0 ? "Read out the parts behind the board" : `${titles.join(" and ")} for its parts`}${detour ? `, by way of ${releaseTitle(speaks)}` : ""}`,
  };
}

/**
 * What parts are set up as, where it is not what they hold: backups of parts of their kind, from which there is a way to the
 * release that they get. Refuses what is no such thing.
 */
async function settleSources(
  sources: Readonly<Record<PartName, number>>,
  runs: Readonly<Record<PartName, string>>,
  fitted: readonly FittedPart[],
  aircraftId: number,
  catalogue: Catalogue,
): Promise<Record<PartName, PartSource>> {
  const settled: Record<PartName, PartSource> = {};
  for (const [name, backupId] of Object.entries(sources) as [PartName, number][]) {
    const part = fitted.find((each) => each.name === name);
    const to = catalogue.parts.get(runs[name] ?? "");
    const row = await backupKnown(backupId);
    if (!part || !to)
      throw new ProblemError({
        code: "part-unwritten",
        message: `The ${name} is set up only where it gets a release`,
        hint: "Choose a release for it; it can be the one that it runs",
      });
    if (!row?.part || row.release_id === null || saidByName(row.part).part !== part.part)
      throw new ProblemError({
        code: "backup-other",
        message: `The ${name} cannot be set up as this backup`,
        detail: row ? `${row.name} is of ${row.part ?? "a board"}` : `There is no backup ${backupId}`,
        hint: `Choose a read-out of ${part.part}`,
      });
    if (row.verdict === "incomplete")
      throw new ProblemError({
        code: "backup-incomplete",
        message: `${row.name} is not complete`,
        detail: lacksOfBackup(row).join(". "),
        hint: "Choose one that is complete",
      });
    const { release } = await readingOf(row.sha256, catalogue);
    valueOf(routeBetween(catalogue, release, to));
    const isOwn = row.aircraft_id === aircraftId && row.part === name;
    settled[name] = { backupId, whose: isOwn ? "this-aircraft" : "another" };
  }
  return settled;
}

/** What can be written in between, as it is wished: it has to lead to what its own firmware does not. */
async function detourBy(
  releaseId: string,
  all: readonly FittedPart[],
  own: Release,
  target: string,
  catalogue: Catalogue,
): Promise<Detour> {
  const found = (await detoursFor(all, own, target, catalogue)).find((each) => each.release.id === releaseId);
  if (found) return { releaseId, title: found.title, target: found.target };
  const kinds = kindsShut(all, own);
  throw new ProblemError({
    code: "detour-none",
    message: "This release is no way to the parts of this board",
    detail:
      kinds.length === 0
        ? `${releaseTitle(own)} opens every line by itself`
        : `Nothing of it that the workshop has starts on a board of ${target} and opens a line to the ${kinds.join(" or the ")}`,
    hint: "Look at the bay again: it says which releases are",
  });
}

/** What a board can be given in between to reach its parts, the nearest to what it runs first. */
export interface DetourFound extends Detour {
  readonly release: Release;
  /** It is a neighbour's: no release that leads to what it leads to builds the board's own target. */
  readonly isNeighbour: boolean;
  /** Pads of a neighbour that work otherwise meanwhile. */
  readonly pads: readonly string[];
  /** Kinds of parts of the aircraft that it opens a line to. */
  readonly leads: readonly string[];
}

/** Kinds of parts that a release opens no line to. */
const kindsShut = (all: readonly FittedPart[], own: Release): string[] =>
  [...new Set(all.map(({ part }) => part))].filter((part) => wayTo(own, part) === undefined);

/** A pad that a motor or servo may hang on: fed by a timer, and not what a table of its own needs. */
const drives = (text: string | undefined, pad: string, { pins }: Release): boolean =>
  text?.startsWith("timer") === true && pins?.tables?.[pad] === undefined;

/** Whether a neighbour’s firmware finds this board's gyro, and whatever hangs on its outputs where it is. */
const reaches = ({ gyro, pads }: Nearness, own: Release): boolean =>
  !gyro && !pads.some(({ pad, here, there }) => drives(here, pad, own) || drives(there, pad, own));

/** It wants another part that this aircraft has not. */
const wantsMore = ({ requires }: Release, all: readonly FittedPart[]): boolean =>
  requires.some(({ part }) => part !== LOADER_PART && !all.some((each) => each.part === part));

/**
 * Releases that open a line to parts which the board's own firmware does not reach, and that start on it: built for its target;
 * where none is, those of its nearest neighbour that have its gyro and its outputs. Of each an image is here, and one of what it
 * runs now: without that there would be no way back.
 */
export async function detoursFor(
  all: readonly FittedPart[],
  own: Release,
  target: string,
  catalogue: Catalogue,
): Promise<DetourFound[]> {
  const here = findTarget(own, target);
  if (!here || !(await hasImage(own.id, here.id))) return [];
  const shut = kindsShut(all, own);
  const kinds = [...new Set(all.map(({ part }) => part))];
  const found: DetourFound[] = [];
  for (const release of catalogue.releases.values()) {
    const leads = kinds.filter((kind) => wayTo(release, kind) !== undefined);
    if (!leads.some((kind) => shut.includes(kind)) || wantsMore(release, all)) continue;
    const built = findTarget(release, target);
    const nearest = built ? undefined : nearestTargets(here, release).find((each) => reaches(each, own));
    const id = built?.id ?? nearest?.target.id;
    if (id === undefined || !(await hasImage(release.id, id))) continue;
    found.push({
      ...{ releaseId: release.id, title: releaseTitle(release), release, target: id, leads },
      isNeighbour: built === undefined,
      pads: nearest?.pads.map(({ pad }) => pad) ?? [],
    });
  }
  const byOwn = new Set(found.flatMap(({ isNeighbour, leads }) => (isNeighbour ? [] : leads)));
  const far = ({ release, pads, isNeighbour }: DetourFound) =>
    (release.standing === "stable" ? 0 : 1000) +
    (isNeighbour ? 100 : 0) +
    pads.length * 10 +
    (release.family === own.family ? 0 : 1);
  return found
    .filter(({ isNeighbour, leads }) => !isNeighbour || leads.some((kind) => shut.includes(kind) && !byOwn.has(kind)))
    .toSorted((a, b) => far(a) - far(b));
}

/** The firmware on the board leads to none of them; what would. */
function noWay(release: Release, part: string | undefined, detours: readonly DetourFound[]): ProblemError {
  return new ProblemError({
    code: "line-none",
    message:
      part === undefined
        ? "There are no parts behind this board"
        : `${releaseTitle(release)} opens no line to the ${part}`,
    ...(detours.length === 0
      ? {}
      : { detail: `By way of ${detours.map((each) => releaseTitle(each.release)).join(", ")} they are reached` }),
    hint:
      part === undefined
        ? "Say on the aircraft’s sheet what is fitted to it"
        : detours.length === 0
          ? "No release of the workshop that starts on this board opens one: import one, with its image"
          : "Order the detour: the board runs its own firmware again at the end",
  });
}
