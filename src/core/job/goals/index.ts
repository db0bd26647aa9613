import type { Facts } from "@/core/job/fact";
import type { GoalKind } from "@/core/job/goals/goal";
import { revive, type Revive } from "@/core/job/goals/revive";
import { setUp, type SetUp } from "@/core/job/goals/set-up";
import { update, type Update } from "@/core/job/goals/update";

/** What a job is ordered for. */
export type Goal = Update | SetUp | Revive;

const GOALS: { readonly [K in Goal["kind"]]: GoalKind<Extract<Goal, { kind: K }>> } = {
  update,
  "set-up": setUp,
  revive,
};

/** What a goal begins with and ends with. */
export function termsOf(goal: Goal): { readonly given: Facts; readonly wanted: Facts } {
  const kind = GOALS[goal.kind] as GoalKind<Goal>;
  return { given: kind.given(goal), wanted: kind.wanted(goal) };
}

/** The backup that the settings come from, where it is another than the one that the job takes itself. */
export const sourceOf = (goal: Goal): number | undefined => ("backupId" in goal ? goal.backupId : undefined);
