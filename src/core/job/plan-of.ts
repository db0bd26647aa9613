import { planUpdate, withScope, type Plan, type Whose } from "@/core/carryover";
import { firmwareById, releaseById, sameChip, type Catalogue, type Release } from "@/core/catalog";
import { defaultConfiguration, type Recital } from "@/core/idiom";
import {
  ofAnother,
  ownPlanOf,
  partSourceOf,
  releaseFor,
  scopeOf,
  sourceOf,
  whoseOf,
  type Goal,
  type Sources,
} from "@/core/job/goals";
import { planOnto } from "@/core/job/goals/set-up";
import { ok, valueOf, type Result } from "@/core/problem";
import type { Part } from "@/core/job/subject";

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

/** What a plan is worked out from, beside the documents that its job rests on. */
export interface PlanOrder {
  readonly goal: Goal;
  /** Of the board, as the job knows it; undefined before it does. */
  readonly target: string | undefined;
  /** The backup that the job itself took. */
  readonly taken: number | undefined;
  /** Another part than the main one: its plan comes from its own read-out, or from what it is set up as. */
  readonly part?: Part;
}

/** What a part is planned from; undefined until it was read itself. */
function partSourceIds(goal: Goal, part: Part, taken: number | undefined): ReturnType<typeof sourceIds> {
  if (taken === undefined) return undefined;
  const chosen = sourceOf(goal, part);
  return { ...(chosen === undefined ? {} : { chosen }), board: taken };
}

/** Whose settings a part gets. What it says itself decides: a backup of the very same one is its own, wherever it is now. */
function whoseOfPart(goal: Goal, part: Part, { chosen, board }: Sources): Whose {
  const said = board?.configuration.identity.chipId;
  const known = chosen?.configuration.identity.chipId;
  if (!chosen || (known !== undefined && sameChip(said, known))) return "this-board";
  return partSourceOf(goal, part)?.whose ?? "another";
}

/** The read-outs that a plan is made from; undefined while one is missing that it cannot do without. */
export async function sourcesOf(
  { goal, target, taken, part }: PlanOrder,
  read: (backupId: number) => Promise<Recital>,
): Promise<Sources | undefined> {
  const ids = part === undefined ? sourceIds(goal, taken) : partSourceIds(goal, part, taken);
  if (target === undefined || !ids) return undefined;
  return {
    ...(ids.chosen === undefined ? {} : { chosen: await read(ids.chosen) }),
    ...(ids.board === undefined ? {} : { board: await read(ids.board) }),
  };
}

/** Works a plan out from what was read. Throws a problem where there can be none. */
export function planFrom({ goal, target, part }: PlanOrder, sources: Sources, catalogue: Catalogue): Plan {
  if (part !== undefined) {
    const to = firmwareById(catalogue, releaseFor(goal, part) ?? "");
    if (!to || !sources.board) throw new Error(`the goal says nothing of ${part}`);
    const whose = whoseOfPart(goal, part, sources);
    return valueOf(
      whose === "this-board"
        ? planUpdate(sources.chosen ?? sources.board, to, target ?? "", catalogue)
        : planOnto({ whose, parts: {} }, sources, to, target ?? "", catalogue),
    );
  }
  const release = valueOf(releaseById(catalogue, goal.runs.main));
  return valueOf(planOfGoal(goal, sources, release, target ?? "", catalogue));
}

/** Backups that a plan is made from, by their ids; undefined while one is missing that it cannot do without. */
export function sourceIds(
  goal: Goal,
  taken: number | undefined,
): { readonly chosen?: number; readonly board?: number } | undefined {
  const chosen = sourceOf(goal);
  if (ownPlanOf(goal) ? taken === undefined : chosen === undefined && taken === undefined && !ofAnother(goal))
    return undefined;
  return { ...(chosen === undefined ? {} : { chosen }), ...(taken === undefined ? {} : { board: taken }) };
}
