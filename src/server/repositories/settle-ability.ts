import { capital } from "@/core/config";
import { needsOfSettings, planUpdate, routeBetween, type AbilityNeed } from "@/core/carryover";
import {
  findTarget,
  lets,
  meeting,
  releaseTitle,
  versionsOf,
  type Ability,
  type Catalogue,
  type Release,
  type Requirement,
} from "@/core/catalog";
import type { AbilityView } from "@/contracts/answers/abilities";
import type { WishOf } from "@/contracts/job-wish";
import { groupBy } from "@/core/group-by";
import { defaultConfiguration } from "@/core/idiom";
import type { BayLive } from "@/core/job";
import { wayTo, type FittedPart, type PartName } from "@/core/part";
import { ProblemError, valueOf } from "@/core/problem";
import { newestComplete } from "@/server/repositories/backups";
import { hasImage } from "@/server/repositories/catalogue";
import type { RegisterRow } from "@/server/repositories/fleet";
import { partStates, type PartState } from "@/server/repositories/fittings";
import { readingOf } from "@/server/repositories/readings";
import { releaseInBay, type SettledGoal } from "@/server/repositories/settled";
import { partsDue } from "@/server/repositories/settle-parts";

/** What an ability comes to for one aircraft: how each of its needs stands, and what a job would bring about. */
interface Weighed {
  readonly ability: Ability;
  readonly needs: readonly AbilityNeed[];
  readonly release: Release;
  readonly runs: Readonly<Record<PartName, string>>;
  readonly fitted: readonly FittedPart[];
}

const abilityIn = ({ abilities }: Release, id: string) => abilities.find((each) => each.id === id);

/** Releases that know an ability, in the order in which a board would come to them: stable ones first, then by the shorter way. */
function knowing(id: string, here: Release, catalogue: Catalogue): Release[] {
  const far = (to: Release): number => {
    const route = routeBetween(catalogue, here, to);
    return (to.standing === "stable" ? 0 : 100) + (route.ok ? route.value.length : 1000);
  };
  return [...catalogue.releases.values()]
    .filter((each) => each.family === here.family && abilityIn(each, id) !== undefined)
    .toSorted((a, b) => far(a) - far(b));
}

/** Abilities that a board could have, by the releases of its family. */
function abilitiesFor(here: Release, catalogue: Catalogue): string[] {
  const all = [...catalogue.releases.values()].filter(({ family }) => family === here.family);
  return [...new Set(all.flatMap(({ abilities }) => abilities.map(({ id }) => id)))];
}

/** The release for it: the one that runs, where that knows it; else the nearest that is built for the board, with an image here. */
async function releaseFor(
  id: string,
  here: Release,
  target: string,
  catalogue: Catalogue,
): Promise<{ readonly release: Release; readonly need: AbilityNeed }> {
  if (abilityIn(here, id)) return { release: here, need: { state: "there", says: `${releaseTitle(here)} knows it` } };
  const all = knowing(id, here, catalogue);
  for (const release of all) {
    const built = findTarget(release, target);
    if (built && (await hasImage(release.id, built.id)))
      return {
        release,
        need: { state: "to-do", says: `${releaseTitle(here)} does not know it; ${releaseTitle(release)} does` },
      };
  }
  const [nearest = here] = all;
  return {
    release: nearest,
    need: {
      state: "cannot",
      says: `${all.map(releaseTitle).join(", ")} ${all.length === 1 ? "knows" : "know"} it, and the workshop has no image of ${all.length === 1 ? "it" : "them"} for ${target === "" ? "this board" : target}`,
    },
  };
}

interface OfPart extends AbilityNeed {
  /** Why, beside what is said of the part. */
  readonly because?: string;
  readonly runs?: string;
}

/** What a requirement comes to for one part. */
async function partNeed(
  { part, read }: PartState,
  requirement: Requirement,
  leads: boolean,
  catalogue: Catalogue,
): Promise<OfPart> {
  const { family, why } = requirement;
  if (read?.release.family === family && lets(requirement, Number(read.release.version)))
    return { state: "there", says: releaseTitle(read.release) };
  const target = read?.target ?? part.target;
  const runs = read ? releaseTitle(read.release) : "never read out";
  const cannot = (says: string): OfPart => ({ state: "cannot", says });
  if (!leads) return cannot(`${runs}, and the firmware on the board opens no line to it`);
  if (target === undefined) return cannot("nobody knows what it is built for: say so on the aircraft’s sheet");
  if (part.target !== undefined && part.target !== target)
    return cannot(`it says ${target}, and the register says ${part.target}: that is settled first`);
  for (const release of meeting(catalogue, requirement))
    if (findTarget(release, target) && (await hasImage(release.id, target)))
      return {
        state: "to-do",
        says: `${runs} → ${releaseTitle(release)}`,
        ...(why === undefined ? {} : { because: why }),
        runs: release.id,
      };
  return cannot(
    `it has to run ${family} ${versionsOf(requirement)}, and the workshop has no image of one for ${target}`,
  );
}

/** What stands alike of several parts, said once: their kind, their places, and from which release to which. */
function saidTogether(kind: string, found: readonly (readonly [FittedPart, OfPart])[]): AbilityNeed[] {
  return [...groupBy(found, ([, { state, says }]) => `${state} ${says}`).values()].flatMap((alike) => {
    const [first] = alike;
    if (!first) return [];
    const [, { state, says, because }] = first;
    const places =
      alike.length === found.length && alike.length > 1 ? "all" : alike.map(([part]) => part.place).join(", ");
    return [{ state, says: `${kind}, ${places}: ${says}${because === undefined ? "" : `. ${because}`}` }];
  });
}

/** How an ability stands with an aircraft whose board speaks in a bay. */
async function weigh(id: string, aircraft: RegisterRow, catalogue: Catalogue, bay: BayLive): Promise<Weighed> {
  const here = releaseInBay(catalogue, bay);
  const target = bay.ownTarget ?? bay.target ?? "";
  const { release, need } = await releaseFor(id, here, target, catalogue);
  const ability = abilityIn(release, id);
  if (!ability)
    throw new ProblemError({
      code: "ability-none",
      message: `No release of ${here.family} knows an ability “${id}”`,
      hint: "Look at the bay again: it lists what there is",
    });
  const { parts } = await partStates(aircraft.id, aircraft.model_id);
  const due = here.id === release.id ? undefined : await partsDue(aircraft, here, release, catalogue);
  const runs: Record<PartName, string> = { ...due?.runs };
  const fitted: FittedPart[] = [...(due?.fitted ?? [])];
  const needs: AbilityNeed[] = [need];
  for (const requirement of ability.parts) {
    const own = parts.filter(({ part }) => part.part === requirement.part);
    const leads = wayTo(here, requirement.part) !== undefined && wayTo(release, requirement.part) !== undefined;
    if (own.length === 0)
      needs.push({
        state: "cannot",
        says: `Nobody has said which ${requirement.part} ${aircraft.tag} has: say so on its sheet`,
      });
    const found: [FittedPart, OfPart][] = [];
    for (const state of own) {
      const need = await partNeed(state, requirement, leads, catalogue);
      found.push([state.part, need]);
      if (need.runs !== undefined) runs[state.part.name] = need.runs;
    }
    needs.push(...saidTogether(capital(requirement.part), found));
    // all of a kind are read out together: what is said of one rests on the others as well
    if (own.some(({ part }) => runs[part.name] !== undefined))
      fitted.push(...own.flatMap(({ part }) => (fitted.some(({ name }) => name === part.name) ? [] : [part])));
  }
  const newest = await newestComplete({ aircraft_id: aircraft.id, release_id: here.id });
  const from = newest
    ? await readingOf(newest.sha256)
    : { configuration: defaultConfiguration(here, target, { target }), release: here };
  const plan = planUpdate(from, release, target, catalogue);
  if (plan.ok) needs.push(...needsOfSettings(plan.value, ability, release));
  else needs.push({ state: "cannot", says: plan.problem.message });
  return { ability, needs, release, runs, fitted };
}

/** What the aircraft of a board could do beside what it can, each with what that wants. */
export async function abilityViews(
  aircraft: RegisterRow,
  here: Release,
  bay: BayLive,
  catalogue: Catalogue,
): Promise<AbilityView[]> {
  const views: AbilityView[] = [];
  for (const id of abilitiesFor(here, catalogue)) {
    const { ability, needs } = await weigh(id, aircraft, catalogue, bay);
    views.push({ id, title: ability.title, says: ability.says, needs });
  }
  return views;
}

/** An ability is brought about: what is there stays, what is missing is done, what cannot be had is said. */
export async function settleAbility(
  { ability: id }: WishOf<"ability">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const { ability, needs, release, runs, fitted } = await weigh(id, aircraft, catalogue, bay);
  const missing = needs.filter(({ state }) => state === "cannot");
  if (missing.length > 0)
    throw new ProblemError({
      code: "ability-out-of-reach",
      message: `${ability.title} cannot be had on ${aircraft.tag} as it is`,
      detail: missing.map(({ says }) => says).join("; "),
      hint: "The rest of it could be done; what is named here comes first",
    });
  if (needs.every(({ state }) => state === "there"))
    throw new ProblemError({
      code: "ability-there",
      message: `${aircraft.tag} can do it: ${ability.title.toLowerCase()}`,
      detail: needs.map(({ says }) => says).join("; "),
      hint: "Nothing is to be done",
    });
  const here = releaseInBay(catalogue, bay);
  const flashes = release.id !== here.id;
  if (flashes) valueOf(routeBetween(catalogue, here, release));
  return {
    goal: {
      kind: "ability",
      runs: { main: release.id, ...runs },
      ability: id,
      ...(flashes ? { flashes: true } : {}),
      ...(fitted.length > 0 ? { fitted } : {}),
    },
    release,
    headline: `${ability.title}${flashes ? `, with ${releaseTitle(release)}` : ""}`,
  };
}
