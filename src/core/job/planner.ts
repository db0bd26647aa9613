import { ANY, keyOf, namesOf, tellFact, unmet, YES, type FactName, type Facts } from "@/core/job/fact";

/** One thing that can be done, with what it takes and what comes of it. */
export interface Move {
  readonly needs: Facts;
  readonly gives: Facts;
  /** Facts that are not so any more afterwards, unless it gives them anew. */
  readonly undoes: readonly FactName[];
  /** Seconds that it takes on a good day. */
  readonly costS: number;
  /** How likely it leaves the board worse than before: 0 to 1. */
  readonly risk: number;
  /** How often a person has to lend a hand. */
  readonly hands: number;
}

/** What no plan may do, whatever it is for. */
export interface Invariant<M extends Move> {
  readonly name: string;
  /** Why the move must not be made while these facts are so; undefined when it may. */
  readonly forbids: (move: M, facts: Facts) => string | undefined;
}

export type Planned<M extends Move> =
  | { readonly kind: "plan"; readonly moves: readonly M[]; readonly cost: number }
  /**
   * No order of moves leads there. `missing`: facts that nothing brings about; where they only wait for each other, those
   * that a next move lacks. `because`: what forbids the rest.
   */
  | { readonly kind: "none"; readonly missing: readonly string[]; readonly because: readonly string[] };

/** One risk outweighs this many seconds, and so does one more thing for a person's hands. */
const RISK_S = 10_000;
const HANDS_S = 30;
export const costOf = ({ costS, risk, hands }: Move): number => costS + risk * RISK_S + hands * HANDS_S;

export function after(facts: Facts, { gives, undoes }: Pick<Move, "gives" | "undoes">): Facts {
  const kept = Object.entries(facts).filter(([name]) => !undoes.includes(name as FactName));
  return { ...(Object.fromEntries(kept) as Facts), ...gives };
}

const changes = (facts: Facts, move: Move): boolean =>
  namesOf(move.gives).some((name) => facts[name] !== move.gives[name]);

/** Why a move cannot be made now: needs that are not met, or what forbids it. */
export function hindrance<M extends Move>(
  move: M,
  facts: Facts,
  invariants: readonly Invariant<M>[],
): { readonly needs: readonly FactName[]; readonly forbidden: readonly string[] } | undefined {
  const needs = unmet(facts, move.needs);
  const forbidden = invariants.flatMap(({ forbids }) => forbids(move, facts) ?? []);
  return needs.length + forbidden.length === 0 ? undefined : { needs, forbidden };
}

interface Node<M> {
  readonly facts: Facts;
  readonly cost: number;
  readonly before: Node<M> | undefined;
  readonly move: M | undefined;
}

/** No job has so many states; a goal that leads to more is refused instead of searched for ever. */
const MOST_STATES = 20_000;

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
  const best = new Map<string, number>([[keyOf(start), 0]]);
  const open: Node<M>[] = [{ facts: start, cost: 0, before: undefined, move: undefined }];
  while (open.length > 0 && best.size < MOST_STATES) {
    const node = takeCheapest(open);
    if (node.cost > (best.get(keyOf(node.facts)) ?? Infinity)) continue;
    if (unmet(node.facts, wanted).length === 0)
      return { kind: "plan", moves: inListedOrder(start, wanted, movesTo(node), moves, invariants), cost: node.cost };
    for (const move of moves) {
      if (!changes(node.facts, move) || hindrance(move, node.facts, invariants)) continue;
      const facts = after(node.facts, move);
      const [key, cost] = [keyOf(facts), node.cost + costOf(move)];
      if (cost >= (best.get(key) ?? Infinity)) continue;
      best.set(key, cost);
      open.push({ facts, cost, before: node, move });
    }
  }
  return { kind: "none", ...whatIsMissing(start, wanted, moves, invariants) };
}

function takeCheapest<M>(open: Node<M>[]): Node<M> {
  let at = 0;
  for (let i = 1; i < open.length; i++) if ((open[i]?.cost ?? 0) < (open[at]?.cost ?? 0)) at = i;
  const [node] = open.splice(at, 1);
  if (!node) throw new Error("nothing is open");
  return node;
}

function movesTo<M>(end: Node<M>): M[] {
  const path: M[] = [];
  for (let node: Node<M> | undefined = end; node?.move !== undefined; node = node.before) path.unshift(node.move);
  return path;
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
