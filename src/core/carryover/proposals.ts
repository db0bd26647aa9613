import { choiceOf, type Choice, type Decisions, type Plan } from "@/core/carryover/plan";

/** A plan that was taken on another aircraft of the type, and who decided what on it. */
export interface EarlierPlan {
  readonly tag: string;
  readonly plan: Plan;
  readonly decisions: Decisions;
  readonly decidedBy: Readonly<Record<string, { readonly account: string; readonly at: number }>>;
}

/** What was decided of the same thing before: the choice, by whom, when (ms since 1970), on which aircraft. */
export interface Proposal {
  readonly choiceId: string;
  readonly account: string;
  readonly at: number;
  readonly tag: string;
}

/** Two choices are the same when they send the same: a word alone could mean another value here. */
const sends = ({ id, shown, row, by, moves }: Choice) => JSON.stringify([id, shown, row, by, moves]);

/**
 * What the plans of other aircraft, the newest first, propose for the items of this one. Only between the same releases; a
 * choice that would send something else here is not proposed, and neither is what only a lead may choose.
 */
export function proposalsFor(plan: Plan, earlier: readonly EarlierPlan[]): Readonly<Record<string, Proposal>> {
  const found: Record<string, Proposal> = {};
  const alike = earlier
    .filter((each) => each.plan.from.release === plan.from.release && each.plan.to.release === plan.to.release)
    .map((each) => ({ ...each, items: new Map(each.plan.items.map((item) => [item.id, item])) }));
  for (const item of plan.items) {
    if (item.choices.length === 0) continue;
    for (const { tag, items, decisions, decidedBy } of alike) {
      const before = items.get(item.id);
      const chosen = before && choiceOf(before, decisions);
      const by = decidedBy[item.id];
      const same = chosen && item.choices.find((choice) => choice.by !== "lead" && sends(choice) === sends(chosen));
      if (!same || !by) continue;
      found[item.id] = { choiceId: same.id, account: by.account, at: by.at, tag };
      break;
    }
  }
  return found;
}
