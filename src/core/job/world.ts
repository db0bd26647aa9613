import { INVARIANTS, type Action, type Wish } from "@/core/job/action";
import { moveOf } from "@/core/job/plan-job";
import { ACTIONS } from "@/core/job/actions";
import { termsOf, type Goal } from "@/core/job/goals";
import { namesOf, tellFact, unmet, YES, type FactName, type Facts } from "@/core/job/fact";
import { after, hindrance } from "@/core/job/planner";
import type { JobState } from "@/core/job/state";

/** Who or what says that something is so. */
export type Source =
  | { readonly how: "given" }
  | { readonly how: "observed" }
  | { readonly how: "concluded"; readonly step: string; readonly at: number }
  | { readonly how: "confirmed"; readonly step: string; readonly by: string; readonly at: number };

/** What is so at the bench now, and by whom or what. */
export interface World {
  readonly facts: Facts;
  readonly sources: Readonly<Partial<Record<FactName, Source>>>;
}

/**
 * The world of a job: what it began with, then what each step that is done brought about and undid, then what is seen on
 * the cable now, which counts before all that was concluded.
 */
export function worldOf(
  goal: Goal,
  wish: Wish,
  state: JobState,
  observed: Facts,
  actions: readonly Action[] = ACTIONS,
): World {
  const { given } = termsOf(goal);
  let facts = given;
  const sources: Partial<Record<FactName, Source>> = {};
  const note = (names: readonly FactName[], source: Source) => names.forEach((name) => (sources[name] = source));
  note(namesOf(given), { how: "given" });
  const done = state.steps
    .filter(({ status }) => status === "done")
    .toSorted((a, b) => (a.endedAt ?? 0) - (b.endedAt ?? 0));
  for (const { id, kind, subject, result, endedAt: at = 0, confirmedBy: by } of done) {
    const action = actions.find((each) => each.kind === kind);
    if (!action) continue;
    const move = action.moveFor(wish, subject);
    facts = { ...after(facts, move), ...action.finds?.(result ?? {}, subject) };
    note(
      namesOf(move.gives),
      by === undefined ? { how: "concluded", step: id, at } : { how: "confirmed", step: id, by, at },
    );
  }
  note(namesOf(observed), { how: "observed" });
  return { facts: { ...facts, ...observed }, sources };
}

/**
 * What a step lacks to be taken now; nothing when it can be, when what it would bring about is so already, or when it is
 * of a kind that is not known here.
 */
export function hindranceOf(id: string, wish: Wish, facts: Facts, actions: readonly Action[] = ACTIONS): string[] {
  const move = moveOf(id, wish, actions);
  if (!move || unmet(facts, move.gives).length === 0) return [];
  const found = hindrance(move, facts, INVARIANTS);
  return found ? [...found.needs.map((name) => tellFact(name, move.needs[name] ?? YES)), ...found.forbidden] : [];
}

/**
 * The same for all that is still to be done, one after the other, each on what those before it bring about: what the first
 * of them lacks that lacks anything.
 */
export function hindranceAhead(
  ids: readonly string[],
  wish: Wish,
  facts: Facts,
  actions: readonly Action[] = ACTIONS,
): string[] {
  let ahead = facts;
  for (const id of ids) {
    const lacks = hindranceOf(id, wish, ahead, actions);
    if (lacks.length > 0) return lacks;
    const move = moveOf(id, wish, actions);
    if (move) ahead = after(ahead, move);
  }
  return [];
}
