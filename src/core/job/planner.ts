import { unmet, type Facts } from "@/core/job/fact";
import { lacksOf, type Lacks } from "@/core/job/planning/lacks";
import { after, hindrance, type Invariant, type Move } from "@/core/job/planning/move";
import { cheapestPath } from "@/core/job/planning/search";
import { COST_UNIT, taskOf } from "@/core/job/planning/task";

export { after, costOf, hindrance, type AnyOf, type Invariant, type Move } from "@/core/job/planning/move";

export type Planned<M extends Move> =
  | { readonly kind: "plan"; readonly moves: readonly M[]; readonly cost: number }
  /** No order of moves leads there, and what it lacks for that. */
  | ({ readonly kind: "none" } & Lacks);

/**
 * The cheapest order of moves from what is so to what is wanted, each with its needs met and nothing forbidden before it.
 * Where orders cost the same, moves stand as they are listed. Pure; the same input gives the same plan.
 */
export function planMoves<M extends Move>(
  start: Facts,
  wanted: Facts,
  moves: readonly M[],
  invariants: readonly Invariant<M>[] = [],
): Planned<M> {
  const task = taskOf(start, wanted, moves, invariants);
  const cheapest = cheapestPath(task);
  if (!cheapest) return { kind: "none", ...lacksOf(task, { start, wanted, moves, invariants }) };
  const path = cheapest.steps.flatMap(({ no }) => moves[no] ?? []);
  return {
    kind: "plan",
    moves: inListedOrder(start, wanted, path, moves, invariants),
    cost: cheapest.cost / COST_UNIT,
  };
}

/** The same moves as a person would do them: as they are listed, wherever that leads to the same end. */
function inListedOrder<M extends Move>(
  start: Facts,
  wanted: Facts,
  path: readonly M[],
  listed: readonly M[],
  invariants: readonly Invariant<M>[],
): readonly M[] {
  const left = [...path].sort((a, b) => listed.indexOf(a) - listed.indexOf(b));
  const ordered: M[] = [];
  let facts = start;
  while (left.length > 0) {
    const at = left.findIndex((move) => !hindrance(move, facts, invariants));
    const [move] = at < 0 ? [] : left.splice(at, 1);
    if (!move) return path;
    ordered.push(move);
    facts = after(facts, move);
  }
  return unmet(facts, wanted).length === 0 ? ordered : path;
}
