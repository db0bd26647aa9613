import {
  adviceOn,
  alikeKey,
  isLost,
  planUpdate,
  routeBetween,
  routeTitle,
  type Hop,
  type PlanItem,
  type Scope,
} from "@/core/carryover";
import { findRelease, findTarget, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { padsOf, resolve } from "@/core/compare";
import { nearestTargets, targetLine, type Nearness } from "@/core/identify";
import { defaultConfiguration } from "@/core/idiom";
import type { BayLive } from "@/core/job";
import { lastComplete, newestComplete, sourceOfType } from "@/server/repositories/backups";
import { aircraftById, type RegisterRow } from "@/server/repositories/fleet";
import { readBay } from "@/server/repositories/bench";
import { campaignFor } from "@/server/repositories/campaigns";
import { listImages, loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import { wayBackOf } from "@/server/repositories/set-up-choices";
import { literal, Op } from "sequelize";
import { getDb } from "@/server/db";
import { first } from "@/server/sql";
import type { Relation, ReleaseChoice, ReleaseChoices } from "@/contracts/answers/choices";

/** How a way leads from one release to another. */
export function relationOf(
  from: Pick<Release, "id" | "family">,
  to: Pick<Release, "id" | "family">,
  route: readonly Hop[],
): Relation {
  if (from.id === to.id) return "same";
  if (route.some(({ by }) => by === "shared meanings")) return "other-family";
  if (from.family !== to.family) return "fork";
  if (route.every(({ by }) => by === "passage")) return route.length === 1 ? "next" : "later";
  return route.every(({ by }) => by === "passage backwards") ? "older" : "fork";
}

const RELATIONS: readonly Relation[] = ["next", "later", "fork", "older", "other-family", "same"];

interface Basis {
  readonly recital: Parameters<typeof planUpdate>[0];
  readonly says: string;
  readonly backedUp: boolean;
}

interface Ground {
  readonly goal: ReleaseChoices["goal"];
  readonly rights?: NonNullable<ReleaseChoices["rights"]>;
  readonly here: Release;
  readonly target: string;
  readonly basis: Basis;
}

/** For a board that shows only its loader: what it was backed up with last, and the target that the register holds. */
async function deadGround(bay: BayLive, catalogue: Catalogue): Promise<Ground | string> {
  const aircraft = await aircraftById(bay.aircraftId ?? 0);
  if (!aircraft) return "Say whose board this is: then its backup can be restored.";
  const backup = await lastComplete(aircraft.id);
  const here = backup && catalogue.releases.get(backup.release_id);
  if (!backup || !here) return rescueGround(aircraft, catalogue);
  const basis = { recital: await readingOf(backup.sha256), says: `by its backup ${backup.name}`, backedUp: true };
  return { goal: "revive", here, target: aircraft.target ?? "", basis };
}

/** Without a backup: the release that the register holds, until the settings region says which one wrote it. */
function rescueGround(
  { tag, type, target, release_id }: RegisterRow,
  catalogue: Catalogue,
): Promise<Ground | string> | Ground | string {
  const here = catalogue.releases.get(release_id ?? "");
  if (release_id === null && target !== null) return commissionGround({ type, target }, catalogue);
  if (!here || target === null)
    return `No complete backup of ${tag} is on file, and the register does not know what ran on it.`;
  const configuration = defaultConfiguration(here, target, { target });
  const says = `by the defaults of ${releaseTitle(here)}: no backup of it is on file, so that the job reads its settings out of its loader first`;
  return { goal: "revive", here, target, basis: { recital: { configuration, release: here }, says, backedUp: false } };
}

/** A board that never ran anything here: set up as its type's standard, as another aircraft of the type, or on defaults. */
async function commissionGround(
  { type, target }: { readonly type: string; readonly target: string },
  catalogue: Catalogue,
): Promise<Ground | string> {
  const source = await sourceOfType(type);
  const here = source && catalogue.releases.get(source.release_id);
  if (source && here) {
    const says = `by ${source.standard ? `the standard of ${type}` : `another ${type}`}, ${source.name}; what belongs to one board or airframe is left out`;
    return {
      goal: "commission",
      here,
      target,
      basis: { recital: await readingOf(source.sha256), says, backedUp: true },
    };
  }
  const builds = targetLine(catalogue, target)?.builds ?? [];
  const tested = builds.filter(({ release }) => release.standing === "stable");
  const newest = (tested.length > 0 ? tested : builds).at(-1)?.release;
  if (!newest) return `No release of the workshop is built for ${target}.`;
  const configuration = defaultConfiguration(newest, target, { target });
  const says = `by the defaults of ${releaseTitle(newest)}: no ${type} was ever backed up`;
  return {
    goal: "commission",
    here: newest,
    target,
    basis: { recital: { configuration, release: newest }, says, backedUp: false },
  };
}

async function groundOf(bay: BayLive, catalogue: Catalogue): Promise<Ground | string> {
  if (bay.presence === "loader") return deadGround(bay, catalogue);
  const here = findRelease(catalogue, bay.family, bay.release);
  if (!here.ok || bay.target === undefined) return "The board has not said what it is.";
  const basis = await basisOf(bay, here.value, bay.target);
  if (bay.ownTarget === undefined) return { goal: "update", here: here.value, target: bay.target, basis };
  const rights = { says: bay.target, takes: bay.ownTarget };
  return { goal: "update", here: here.value, target: bay.ownTarget, basis, rights };
}

/** The newest complete read-out of the aircraft on the release that runs, else that release's defaults. */
async function basisOf(bay: BayLive, here: Release, target: string): Promise<Basis> {
  const newest = await newestComplete({ aircraft_id: bay.aircraftId ?? 0, release_id: here.id });
  if (newest) return { recital: await readingOf(newest.sha256), says: `by its backup ${newest.name}`, backedUp: true };
  const configuration = defaultConfiguration(here, target, { target });
  return {
    recital: { configuration, release: here },
    says: `by the defaults of ${releaseTitle(here)}; no backup of it is on file`,
    backedUp: false,
  };
}

/** The target of a release that comes nearest to a board's own, by what of this aircraft would break. */
function nearestFor(to: Release, here: Release, target: string, { recital }: Basis): Nearness | undefined {
  const own = findTarget(here, target);
  const { pins } = here;
  if (!own) return undefined;
  const pads = pins ? padsOf(resolve(recital.configuration, here), pins) : [];
  return nearestTargets(own, to, new Map(pads.map(({ pad, does }) => [pad, does])))[0];
}

function choiceOf(
  to: Release,
  here: Release,
  target: string,
  basis: Basis,
  catalogue: Catalogue,
  images: ReadonlySet<string>,
): ReleaseChoice[] {
  const built = findTarget(to, target);
  const near = built ? undefined : nearestFor(to, here, target, basis);
  const found = built ?? near?.target;
  const route = routeBetween(catalogue, here, to);
  if (!route.ok || !found) return [];
  const plan = planUpdate(basis.recital, to, found.id, catalogue);
  if (!plan.ok) return [];
  const { items } = plan.value;
  const rowsOf = (fits: (item: PlanItem) => boolean) => new Set(items.filter(fits).map(alikeKey)).size;
  const back = routeBetween(catalogue, to, here);
  const own = findTarget(here, target)?.id ?? target;
  const noWayBack = !back.ok
    ? `no passage leads from ${releaseTitle(to)} back to ${releaseTitle(here)}`
    : images.has(`${here.id} ${own}`)
      ? undefined
      : `no image of ${releaseTitle(here)} for ${own} is in the workshop`;
  return [
    {
      id: to.id,
      title: releaseTitle(to),
      standing: to.standing,
      relation: relationOf(here, to, route.value),
      hops: route.value.length,
      ...(route.value.length > 0 ? { path: routeTitle(here, route.value) } : {}),
      silent: rowsOf((item) => item.kind !== "line" && item.call === "silent"),
      blocked: rowsOf((item) => item.outcome === "cannot-be-here"),
      lost: rowsOf(isLost),
      advice: adviceOn(
        plan.value,
        route.value.some(({ by }) => by === "shared meanings"),
      ),
      starters: to.starters.map(({ name, airframe }) => ({ name, airframe })),
      profiles: to.profiles,
      areas: to.areas,
      ...(noWayBack === undefined ? {} : { noWayBack }),
      image: images.has(`${to.id} ${found.id}`),
      ...(near ? { instead: { target: near.target.id, own, near } } : {}),
    },
  ];
}

/** What the last job on an aircraft of a type let come along; undefined before there was one. */
async function lastScope(type: string): Promise<Scope | undefined> {
  const last = await first(getDb().Job, {
    where: {
      [Op.and]: [
        { state: { [Op.ne]: "stopped" } },
        literal(`"Job".goal ->> 'kind' in ('update', 'commission', 'revive')`),
      ],
    },
    attributes: ["goal"],
    include: [{ association: "aircraft", attributes: [], where: { type }, required: true }],
    order: [["id", "desc"]],
  });
  return last && "scope" in last.goal ? last.goal.scope : undefined;
}

/** Every release that is built for the board in a bay, the nearest first; none while the board has not said what it is. */
export async function releaseChoices(bayNo: number): Promise<ReleaseChoices> {
  const bay = (await readBay(bayNo))?.live;
  const catalogue = await loadCatalogue();
  const ground = bay ? await groundOf(bay, catalogue) : "There is no such bay.";
  if (typeof ground === "string") return { goal: "update", basis: "", backedUp: false, choices: [], lack: ground };
  const { goal, here, target, basis, rights } = ground;
  const stored = await listImages();
  const images = new Set(stored.map(({ release_id, target: of }) => `${release_id} ${of}`));
  const choices = [...catalogue.releases.values()].flatMap((release) =>
    choiceOf(release, here, target, basis, catalogue, images),
  );
  const standing = ({ standing: s }: ReleaseChoice) => ["stable", "candidate", "experimental"].indexOf(s);
  // what was on a dead board is the first thing to write to it again
  const rank = ({ relation }: ReleaseChoice) =>
    (goal !== "update" || rights) && relation === "same" ? -1 : RELATIONS.indexOf(relation);
  const sorted = choices.toSorted(
    (a, b) =>
      Number(a.instead !== undefined) - Number(b.instead !== undefined) ||
      // whatever runs now or ran last: what its maker calls an experiment is nobody's first choice
      Number(a.standing === "experimental") - Number(b.standing === "experimental") ||
      rank(a) - rank(b) ||
      a.hops - b.hops ||
      standing(a) - standing(b) ||
      (a.id < b.id ? -1 : 1),
  );
  const type = (await aircraftById(bay?.aircraftId ?? 0))?.type;
  const scope = type === undefined ? undefined : await lastScope(type);
  const turn = goal === "update" ? await campaignFor(bay?.aircraftId ?? 0) : undefined;
  const wayBack = bay && goal === "update" && !rights ? await wayBackOf(bay, here, target, catalogue) : undefined;
  return {
    goal,
    basis: basis.says,
    backedUp: basis.backedUp,
    choices: sorted,
    ...(rights ? { rights } : {}),
    ...(scope ? { lastScope: scope } : {}),
    ...(wayBack ? { wayBack } : {}),
    ...(turn
      ? { campaign: { id: turn.campaign.id, title: turn.campaign.title, turn: turn.turn, waiting: turn.waiting } }
      : {}),
  };
}
