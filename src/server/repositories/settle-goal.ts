import { EVERYTHING, routeBetween, unknownNames, type Scope, type Whose } from "@/core/carryover";
import { findRelease, findTarget, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { newestBuildOf } from "@/core/identify";
import type { GoalWish, WishOf } from "@/contracts/job-wish";
import type { BayLive, Goal, Instead } from "@/core/job";
import { ProblemError, valueOf } from "@/core/problem";
import { settleBase } from "@/server/repositories/baselines";
import { lastComplete, sourceOfType, usableBackup, whoseIs } from "@/server/repositories/backups";
import { partRelease, partsBroughtTo, runsOf } from "@/server/repositories/campaign-parts";
import { turnOf } from "@/server/repositories/campaigns";
import { aircraftById, type RegisterRow } from "@/server/repositories/fleet";
import { keptByPolicy } from "@/server/repositories/policy";
import type { Relation } from "@/contracts/answers/choices";
import { settleAbility } from "@/server/repositories/settle-ability";
import { partsDue, settleParts } from "@/server/repositories/settle-parts";
import { releaseInBay, writable, type SettledGoal } from "@/server/repositories/settled";
import { relationOf } from "@/server/repositories/release-choices";

const HEADLINES: Readonly<Record<Relation, string>> = {
  next: "Update to",
  later: "Update to",
  fork: "Change to",
  older: "Back to",
  "other-family": "Change to",
  same: "Write anew",
};

const asTarget = (instead: Instead | undefined) => (instead ? ` as ${instead.target}` : "");

const LEAST_REASON = 10;

/** Another target than the board's own is written only with a reason, and never one of another processor. */
function checkInstead({ target, reason }: Instead, own: string, release: Release, catalogue: Catalogue): void {
  if (reason.trim().length < LEAST_REASON)
    throw new ProblemError({
      code: "reason-missing",
      message: `Say why this board shall run the firmware of ${target}`,
      detail: `Its own target is ${own}; what differs would not work as wired`,
      hint: `A sentence of at least ${LEAST_REASON} letters; it stands in the job's record`,
    });
  const processor = newestBuildOf(catalogue, own)?.target.processor;
  const wanted = findTarget(release, target)?.processor;
  if (processor !== wanted)
    throw new ProblemError({
      code: "image-processor",
      message: `The firmware of ${target} is for another processor`,
      detail: `${own} has a ${processor ?? "processor that is not known"}, ${target} a ${wanted ?? "processor that is not known"}`,
      hint: "Nothing overrules this: it could not start",
    });
}

async function settleUpdate(
  { releaseId, instead, asModel }: WishOf<"update">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  if (asModel && bay.ownTarget === undefined)
    throw new ProblemError({
      code: "target-agrees",
      message: "The firmware on this board is of the target that its model takes",
      hint: "Look at the bay again: the board or the register may have changed",
    });
  const own = (asModel ? bay.ownTarget : bay.target) ?? aircraft.target ?? "";
  const release = await writable(releaseId, instead?.target ?? own, catalogue);
  if (instead) checkInstead(instead, own, release, catalogue);
  const here = findRelease(catalogue, bay.family, bay.release);
  const due = here.ok ? await partsDue(aircraft, here.value, release, catalogue) : { runs: {}, fitted: [] };
  const verb = here.ok
    ? HEADLINES[relationOf(here.value, release, valueOf(routeBetween(catalogue, here.value, release)))]
    : HEADLINES.next;
  return {
    goal: {
      kind: "update",
      runs: { main: releaseId, ...due.runs },
      ...(due.fitted.length > 0 ? { fitted: due.fitted } : {}),
      ...(instead ? { instead } : {}),
      ...(asModel ? { asModel } : {}),
    },
    release,
    headline: asModel
      ? `Correct the target: ${releaseTitle(release)} for ${own}`
      : `${verb} ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

const notOwn = (whose: Whose) => (whose === "this-board" ? {} : { whose });

/** The reason for a backup that is not complete; for a complete one there is nothing to give a reason for. */
const knownLacks = ({ verdict }: { readonly verdict: string }, although = "") =>
  verdict === "incomplete" ? { although: although.trim() } : {};

/** The target that a board goes back to: the one that it says, or else its own, where a neighbour’s firmware is on it. */
function targetBack(
  releaseId: string,
  { target, model_id: modelId }: RegisterRow,
  bay: BayLive,
  catalogue: Catalogue,
): string {
  const to = catalogue.releases.get(releaseId);
  const says = bay.target ?? target ?? "";
  const own = bay.ownTarget ?? catalogue.models.get(modelId ?? "")?.target;
  const isBuilt = (id: string | undefined) => to !== undefined && id !== undefined && findTarget(to, id) !== undefined;
  return bay.ownTarget ?? (!isBuilt(says) && isBuilt(own) ? (own ?? says) : says);
}

/** A backup that the board is set up from: its own, or another's, on the release that it runs or on one written first. */
async function settleSetUp(
  { backupId, releaseId, parts, although }: WishOf<"set-up">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const backup = await usableBackup(backupId, although);
  const here = releaseInBay(catalogue, bay);
  const flashes = releaseId !== undefined && releaseId !== here.id;
  const target = flashes ? targetBack(releaseId, aircraft, bay, catalogue) : undefined;
  const release = target === undefined ? here : await writable(releaseId ?? "", target, catalogue);
  const from = valueOf(releaseById(catalogue, backup.release_id ?? ""));
  valueOf(routeBetween(catalogue, from, release));
  const whose = whoseIs(backup, aircraft.id, bay.chipId);
  const day = backup.taken_at.toISOString().slice(0, 10);
  const owner = backup.aircraft_id === null ? undefined : await aircraftById(backup.aircraft_id);
  const as = whose === "another" ? `${owner?.tag ?? backup.name} on ${day}` : `on ${day}`;
  const [verb, title] = [flashes ? "Back to" : "Set up", releaseTitle(release)];
  return {
    goal: {
      kind: "set-up",
      runs: { main: release.id },
      backupId,
      ...(flashes ? { flashes: true } : {}),
      // what it runs in between may be a neighbour’s: its model says which is its own
      ...(target !== undefined && target !== bay.target ? { asModel: true } : {}),
      ...(whose === "this-board" ? {} : { whose, parts }),
      ...knownLacks(backup, although),
    },
    release,
    headline:
      backup.source === "merged"
        ? `Set up as merged on ${day}`
        : flashes && whose === "another"
          ? `${title}, set up as ${as}`
          : `${verb}${flashes ? ` ${title}` : ""} as ${as}`,
  };
}

/** A board that shows only its loader, brought back with what its aircraft was backed up with last. */
async function settleRevive(
  { releaseId, instead }: WishOf<"revive">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const release = await writable(releaseId, instead?.target ?? aircraft.target ?? "", catalogue);
  if (instead) checkInstead(instead, aircraft.target ?? "", release, catalogue);
  // without a backup, what its settings region still holds is all there is: the job reads it out before it writes
  const backup = await lastComplete(aircraft.id);
  if (backup) valueOf(routeBetween(catalogue, valueOf(releaseById(catalogue, backup.release_id)), release));
  return {
    goal: {
      kind: "revive",
      runs: { main: releaseId },
      ...(backup ? { backupId: backup.id, ...notOwn(whoseIs(backup, aircraft.id, bay.chipId)) } : {}),
      ...(instead ? { instead } : {}),
    },
    release,
    headline: `Revive on ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

/** A board that was never set up becomes an aircraft of its type: as the standard, or another of the type, was backed up. */
async function settleCommission(
  { releaseId, instead, backupId, although }: WishOf<"commission">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const release = await writable(releaseId, instead?.target ?? aircraft.target ?? "", catalogue);
  if (instead) checkInstead(instead, aircraft.target ?? "", release, catalogue);
  const source = backupId === undefined ? await sourceOfType(aircraft.type) : await usableBackup(backupId, although);
  if (source) valueOf(routeBetween(catalogue, valueOf(releaseById(catalogue, source.release_id ?? "")), release));
  const whose = source && "aircraft_id" in source ? whoseIs(source, aircraft.id, bay.chipId) : "another";
  return {
    goal: {
      kind: "commission",
      runs: { main: releaseId },
      ...(source ? { backupId: source.id, whose } : {}),
      ...(source && "verdict" in source ? knownLacks(source, although) : {}),
      ...(instead ? { instead } : {}),
    },
    release,
    headline: `Commission on ${releaseTitle(release)}${asTarget(instead)}`,
  };
}

/** The board goes back to a baseline on the release that it runs. */
async function settleBaseline(
  { base, parts }: WishOf<"baseline">,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const release = releaseInBay(catalogue, bay);
  const { title, ...source } = await settleBase({ base }, aircraft.type, release, bay.target ?? "", catalogue);
  const allowed = base === "standard" ? await keptByPolicy(aircraft.type, aircraft.tag) : { parts: {}, keep: [] };
  return {
    goal: {
      ...{ kind: "baseline", runs: { main: release.id }, ...source, parts: { ...allowed.parts, ...parts } },
      ...(allowed.keep.length === 0 ? {} : { keep: allowed.keep }),
    },
    release,
    headline: `Set to ${title}`,
  };
}

/** The goal with the part of the settings that comes along; a starter set has to be one of the release's. */
function scoped(goal: Goal, scope: Scope, release: Release): Goal {
  if (scope.starter !== undefined && !release.starters.some(({ name }) => name === scope.starter))
    throw new ProblemError({
      code: "starter-none",
      message: `There is no starter set “${scope.starter}” in ${releaseTitle(release)}`,
      detail: `It has ${release.starters.map(({ name }) => name).join(", ") || "none"}`,
      hint: "Choose one of them, or none",
    });
  const unknown = unknownNames(scope, release);
  if (unknown.length > 0)
    throw new ProblemError({
      code: "scope-unknown",
      message: `${releaseTitle(release)} has nothing of this name to leave behind: ${unknown.slice(0, 5).join(", ")}`,
      hint: "Names are those of the new release: areas, profiles as “tune 3”, settings as they are written",
    });
  if (
    goal.kind === "baseline" ||
    goal.kind === "parts" ||
    goal.kind === "ability" ||
    (scope.kind === "everything" && scope.starter === undefined)
  )
    return goal;
  return { ...goal, scope };
}

function settle(goal: GoalWish, aircraft: RegisterRow, catalogue: Catalogue, bay: BayLive) {
  switch (goal.kind) {
    case "update":
      return settleUpdate(goal, aircraft, catalogue, bay);
    case "set-up":
      return settleSetUp(goal, aircraft, catalogue, bay);
    case "revive":
      return settleRevive(goal, aircraft, catalogue, bay);
    case "commission":
      return settleCommission(goal, aircraft, catalogue, bay);
    case "baseline":
      return settleBaseline(goal, aircraft, catalogue, bay);
    case "parts":
      return settleParts(goal, aircraft, catalogue, bay);
    case "ability":
      return settleAbility(goal, aircraft, catalogue, bay);
    case "campaign":
      return settleCampaign(goal.campaignId, aircraft, catalogue, bay);
  }
}

/** What the campaign wants of each of its aircraft. */
async function settleCampaign(
  campaignId: number,
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const { goal } = await turnOf(campaignId, aircraft.id);
  if (goal.kind === "standard")
    return settleBaseline({ kind: "baseline", base: "standard", parts: {} }, aircraft, catalogue, bay);
  if (goal.kind === "parts") {
    const due = await partsBroughtTo(aircraft, partRelease(catalogue, goal.releaseId));
    return settleParts({ kind: "parts", runs: runsOf(due, goal.releaseId) }, aircraft, catalogue, bay);
  }
  const settled = await settleUpdate({ kind: "update", releaseId: goal.releaseId }, aircraft, catalogue, bay);
  return { ...settled, goal: scoped(settled.goal, goal.scope ?? EVERYTHING, settled.release) };
}

/** What is wished, as a goal that a job can have. Refuses what can be known to fail. */
export async function settleGoal(
  { goal, scope = EVERYTHING }: { readonly goal: GoalWish; readonly scope?: Scope },
  aircraft: RegisterRow,
  catalogue: Catalogue,
  bay: BayLive,
): Promise<SettledGoal> {
  const settled = await settle(goal, aircraft, catalogue, bay);
  return { ...settled, goal: scoped(settled.goal, scope, settled.release) };
}
