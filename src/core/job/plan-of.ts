import { planUpdate, withScope, type Plan } from "@/core/carryover";
import type { Catalogue, Release } from "@/core/catalog";
import { defaultConfiguration } from "@/core/idiom";
import { ofAnother, ownPlanOf, scopeOf, whoseOf, type Goal, type Sources } from "@/core/job/goals";
import { ok, type Result } from "@/core/problem";

/** The plan of a job: its source carried over to its release and target; without a source, the release's own defaults. */
export function planOfGoal(
  goal: Goal,
  sources: Sources,
  release: Release,
  target: string,
  catalogue: Catalogue,
): Result<Plan> {
  const own = ownPlanOf(goal);
  const defaults = () => ({ configuration: defaultConfiguration(release, target, { target }), release });
  const plan = own
    ? own(goal, sources, release, target, catalogue)
    : planUpdate(sources.chosen ?? sources.board ?? defaults(), release, target, catalogue, whoseOf(goal));
  return plan.ok ? ok(withScope(plan.value, scopeOf(goal), release)) : plan;
}

/** Backups that a plan is made from, by their ids; undefined while one is missing that it cannot do without. */
export function sourceIds(
  goal: Goal,
  taken: number | undefined,
): { readonly chosen?: number; readonly board?: number } | undefined {
  const chosen = "backupId" in goal ? goal.backupId : undefined;
  if (ownPlanOf(goal) ? taken === undefined : chosen === undefined && taken === undefined && !ofAnother(goal))
    return undefined;
  return { ...(chosen === undefined ? {} : { chosen }), ...(taken === undefined ? {} : { board: taken }) };
}
