import { ANY, namesOf, tellFact, unmet, YES, type FactName, type Facts } from "@/core/job/fact";
import { after, hindrance, type Invariant, type Move } from "@/core/job/planning/move";
import { cheapestWay } from "@/core/job/planning/search";
import { COST_UNIT, taskOf } from "@/core/job/planning/task";

export { after, costOf, hindrance, type AnyOf, type Invariant, type Move } from "@/core/job/planning/move";

export type Planned<M extends Move> =
  | { readonly kind: "plan"; readonly moves: readonly M[]; readonly cost: number }
  /**
   * No order of moves leads there. `missing`: facts that nothing brings about; where they only wait for each other, those
   * that a next move lacks. `because`: what forbids the rest.
   */
  | { readonly kind: "none"; readonly missing: readonly string[]; readonly because: readonly string[] };

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
  const way = cheapestWay(task);
  if (!way) return { kind: "none", ...whatIsMissing(start, wanted, moves, invariants) };
  const path = way.steps.flatMap(({ no }) => moves[no] ?? []);
  return { kind: "plan", moves: inListedOrder(start, wanted, path, moves, invariants), cost: way.cost / COST_UNIT };
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

/** What can become so at all, if nothing were ever undone; and what stands in the way of the rest. */
function whatIsMissing<M extends Move>(
  start: Facts,
  wanted: Facts,
  moves: readonly M[],
  invariants: readonly Invariant<M>[],
): { missing: string[]; because: string[] } {
  const reached = new Map<FactName, Set<string>>(namesOf(start).map((name) => [name, new Set([start[name] ?? ""])]));
  const can = (facts: Facts) =>
    namesOf(facts).filter((name) => {
      const values = reached.get(name);
      return values === undefined || !(facts[name] === ANY || values.has(facts[name] ?? ""));
    });
  for (let grown = true; grown;) {
    grown = false;
    for (const move of moves) {
      if (can(move.needs).length > 0) continue;
      for (const name of namesOf(move.gives)) {
        const values = reached.get(name) ?? new Set();
        if (!values.has(move.gives[name] ?? "")) grown = true;
        reached.set(name, values.add(move.gives[name] ?? ""));
      }
    }
  }
  const missing = new Set<string>();
  const seen = new Set<FactName>();
  const tell = (facts: Facts) => can(facts).map((name) => tellFact(name, facts[name] ?? YES));
  const ask = (facts: Facts) => {
    for (const name of can(facts)) {
      if (seen.has(name)) continue;
      seen.add(name);
      const givers = moves.filter((move) => facts[name] === ANY || move.gives[name] === facts[name]);
      if (givers.length === 0) missing.add(tellFact(name, facts[name] ?? YES));
      for (const giver of givers) ask(giver.needs);
    }
  };
  ask(wanted);
  // they only wait for each other: what the first move that is short of one thing lacks
  if (missing.size === 0) {
    const lacks = moves.map(({ needs }) => tell(needs)).find((facts) => facts.length === 1);
    if (can(wanted).length > 0) lacks?.forEach((fact) => missing.add(fact));
  }
  const forbidden = moves.flatMap((move) =>
    can(move.needs).length > 0 ? [] : (hindrance(move, start, invariants)?.forbidden ?? []),
  );
  return { missing: [...missing], because: missing.size > 0 ? [] : [...new Set(forbidden)] };
}
