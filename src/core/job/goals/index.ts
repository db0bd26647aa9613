import { batteriesWith, type Battery } from "@/core/catalog";
import { EVERYTHING, type Scope, type Whose } from "@/core/carryover";
import { CLOSED, factsOf, YES, type Facts } from "@/core/job/fact";
import type { Terms } from "@/core/job/action";
import { loaderOfPart, type Part } from "@/core/job/subject";
import type { FittedPart } from "@/core/part";
import type { GoalKind, Instead, Releases, Sources } from "@/core/job/goals/goal";
import { ability, type AbilityGoal } from "@/core/job/goals/ability";
import { baseline, type Baseline } from "@/core/job/goals/baseline";
import { commission, type Commission } from "@/core/job/goals/commission";
import { parts, type Detour, type PartsGoal, type PartSource } from "@/core/job/goals/parts";
import { revive, type Revive } from "@/core/job/goals/revive";
import { setUp, type SetUp } from "@/core/job/goals/set-up";
import { update, type Update } from "@/core/job/goals/update";

export type { Detour, Instead, PartSource, Sources };

/** What a job is ordered for. */
export type Goal = (Update | SetUp | Revive | Commission | Baseline | PartsGoal | AbilityGoal) & {
  /** The batteries of the aircraft, where it has more than one. */
  readonly batteries?: readonly Battery[];
};

const GOALS: { readonly [K in Goal["kind"]]: GoalKind<Extract<Goal, { kind: K }>> } = {
  update,
  "set-up": setUp,
  revive,
  commission,
  baseline,
  parts,
  ability,
};

type Earlier<G> = G extends Goal ? Omit<G, "runs"> & { readonly releaseId: string } : never;
/** A goal as it is on record: earlier ones name the release of the main part alone. */
export type KeptGoal = Goal | Earlier<Goal>;

export function goalFrom(kept: KeptGoal): Goal {
  if ("runs" in kept) return kept;
  const { releaseId, ...rest } = kept;
  const runs: Releases = { main: releaseId };
  return { ...rest, runs };
}

/** What is taken to be so of a part until a step finds it otherwise. */
const assumedOf = (part: Part): Facts => ({
  ...factsOf(part, { "settings region": "sound", "rescue holds": "settings", reads: YES }),
  ...factsOf(loaderOfPart(part), { serves: YES }),
});
/** The parts behind the board that a goal is about. */
export const fittedOf = (goal: Goal): readonly FittedPart[] => ("fitted" in goal ? (goal.fitted ?? []) : []);
/** The batteries that a job has to do with, as far as its goal says: one where nothing is said of them. */
export const batteriesIn = (goal: Goal): readonly Battery[] => goal.batteries ?? batteriesWith(fittedOf(goal));
/** What stands behind a board does not speak for itself, and its line is closed. */
const assumedBehind = (goal: Goal): Facts => {
  const fitted = fittedOf(goal);
  return fitted.length === 0
    ? {}
    : (Object.assign(
        { "main: line": CLOSED },
        ...fitted.map(({ name }) => ({ ...assumedOf(name), ...factsOf(name, { speaks: "not" }) })),
      ) as Facts);
};
const partsOf = ({ runs }: Goal) => Object.keys(runs) as Part[];
/** The parts whose settings go over to the release that they shall run. */
export const carriedBy = (goal: Goal): readonly Part[] =>
  (GOALS[goal.kind] as GoalKind<Goal>).carries?.(goal) ?? partsOf(goal);

/** What a goal begins with and ends with. */
export function termsOf(goal: Goal): Terms {
  const kind = GOALS[goal.kind] as GoalKind<Goal>;
  const assumed = Object.assign({}, ...partsOf(goal).map(assumedOf)) as Facts;
  return { given: { ...assumed, ...assumedBehind(goal), ...kind.given(goal) }, wanted: kind.wanted(goal) };
}

/** The release that a part shall run at the end; undefined where the goal says nothing of it. */
export const releaseFor = ({ runs }: Goal, part: Part): string | undefined => runs[part];

/** What the board runs in between, where its own firmware opens no line to its parts. */
export const detourOf = (goal: Goal): Detour | undefined => ("detour" in goal ? goal.detour : undefined);

/** The target that somebody chose instead of the board's own, if anybody did. */
export const insteadOf = (goal: Goal): Instead | undefined => ("instead" in goal ? goal.instead : undefined);

/** Whether its model says which target is written, whatever the firmware on it says. */
export const byModel = (goal: Goal): boolean => "asModel" in goal && goal.asModel;

/** Whether the settings come from another board than the one that the job is about. */
export const ofAnother = (goal: Goal): boolean => GOALS[goal.kind].ofAnother === true;

/** Why a backup is taken that is not complete; undefined where it is. */
export const althoughOf = (goal: Goal): string | undefined => ("although" in goal ? goal.although : undefined);

/** How a kind of goal makes its plan, where that rests on what the board holds as well. */
export function ownPlanOf(goal: Goal): GoalKind<Goal>["plan"] {
  const { plan, keepsOwn } = GOALS[goal.kind] as GoalKind<Goal>;
  return keepsOwn === undefined || keepsOwn(goal) ? plan : undefined;
}

/** Whose board the settings come from. */
export const whoseOf = (goal: Goal): Whose =>
  ("whose" in goal ? goal.whose : undefined) ?? (ofAnother(goal) ? "another" : "this-board");

/** The backup that a part's settings come from, where it is another than the one that the job takes itself, and whose it is. */
export const partSourceOf = (goal: Goal, part: Part): PartSource | undefined =>
  part !== "main" && goal.kind === "parts" ? goal.sources?.[part] : undefined;

/** The backup that the settings of the main part, or of another, come from, where the job does not take it itself. */
export const sourceOf = (goal: Goal, part: Part = "main"): number | undefined =>
  part === "main" ? ("backupId" in goal ? goal.backupId : undefined) : partSourceOf(goal, part)?.backupId;

/** The part of the settings that shall come along; everything, where nobody said otherwise. */
export const scopeOf = (goal: Goal): Scope => ("scope" in goal ? goal.scope : EVERYTHING);
