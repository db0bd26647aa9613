import type { Decisions, Plan, PlanItem } from "@/core/carryover";
import { carriedBy, type Goal } from "@/core/job/goals";
import { backupOf, targetOf } from "@/core/job/found";
import type { PlanOrder } from "@/core/job/plan-of";
import type { JobState } from "@/core/job/state";
import { partAddress } from "@/core/part";
import type { Part } from "@/core/job/subject";

/** By which an item of a part's plan is known in the plan of a job; those of the main part by themselves. */
export const itemPrefix = (part: Part): string => (part === "main" ? "" : partAddress(part, ""));

const named = (item: PlanItem, prefix: string): PlanItem => ({
  ...item,
  id: prefix + item.id,
  choices: item.choices.map((choice) =>
    choice.moves ? { ...choice, moves: { ...choice.moves, itemId: prefix + choice.moves.itemId } } : choice,
  ),
});

/** The plans of several parts as one: what is decided, is decided by one list. */
export function planOfAll(plans: readonly (readonly [Part, Plan])[]): Plan | undefined {
  const [first] = plans;
  if (!first) return undefined;
  return {
    ...first[1],
    items: plans.flatMap(([part, { items }]) => items.map((item) => named(item, itemPrefix(part)))),
  };
}

/** A plan for each part whose settings go over, as one; undefined while one of them cannot be made yet. */
export async function planOfJobParts(
  goal: Goal,
  state: Pick<JobState, "steps">,
  planFor: (order: PlanOrder) => Promise<Plan | undefined>,
): Promise<Plan | undefined> {
  const plans: [Part, Plan][] = [];
  for (const part of carriedBy(goal)) {
    const order = { goal, target: targetOf(state, part), taken: backupOf(state, part) };
    const plan = await planFor(part === "main" ? order : { ...order, part });
    if (!plan) return undefined;
    plans.push([part, plan]);
  }
  return planOfAll(plans);
}

/** What a job's plan and its decisions say of one part, by the names that the part itself has. */
export function ofOnePart(
  plan: Plan,
  decisions: Decisions,
  part: Part,
  goal: Goal,
): { readonly plan: Plan; readonly decisions: Decisions } {
  const others = carriedBy(goal).flatMap((each) => (each === "main" ? [] : [itemPrefix(each)]));
  const prefix = itemPrefix(part);
  const mine = (id: string) => (prefix === "" ? !others.some((other) => id.startsWith(other)) : id.startsWith(prefix));
  const bare = (id: string) => id.slice(prefix.length);
  return {
    plan: {
      ...plan,
      items: plan.items.flatMap((item) =>
        mine(item.id)
          ? [
              {
                ...item,
                id: bare(item.id),
                choices: item.choices.map((choice) =>
                  choice.moves ? { ...choice, moves: { ...choice.moves, itemId: bare(choice.moves.itemId) } } : choice,
                ),
              },
            ]
          : [],
      ),
    },
    decisions: Object.fromEntries(
      Object.entries(decisions).flatMap(([id, choice]) => (mine(id) ? [[bare(id), choice]] : [])),
    ),
  };
}
