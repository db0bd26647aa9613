import { ANY, namesOf, unmet, type FactName, type Facts } from "@/core/job/fact";

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

/** Facts of which one has to be so. */
export type AnyOf = Facts;

/** What no plan may do, whatever it is for. */
export interface Invariant<M extends Move> {
  readonly name: string;
  /** What has to be so before the move, whatever it needs itself: of each of these one fact. */
  readonly asks: (move: M) => readonly AnyOf[];
  /** Why it may not be made while one of them is not. */
  readonly says: (move: M) => string;
}

/** One risk outweighs this many seconds, and so does one more thing for a person's hands. */
const RISK_S = 10_000;
const HANDS_S = 30;
export const costOf = ({ costS, risk, hands }: Move): number => costS + risk * RISK_S + hands * HANDS_S;

export function after(facts: Facts, { gives, undoes }: Pick<Move, "gives" | "undoes">): Facts {
  const kept = Object.entries(facts).filter(([name]) => !undoes.includes(name as FactName));
  return { ...(Object.fromEntries(kept) as Facts), ...gives };
}

const oneIsSo = (any: AnyOf, facts: Facts): boolean =>
  namesOf(any).some((name) => (any[name] === ANY ? facts[name] !== undefined : facts[name] === any[name]));

/** Why a move cannot be made now: needs that are not met, or what forbids it. */
export function hindrance<M extends Move>(
  move: M,
  facts: Facts,
  invariants: readonly Invariant<M>[],
): { readonly needs: readonly FactName[]; readonly forbidden: readonly string[] } | undefined {
  const needs = unmet(facts, move.needs);
  const forbidden = invariants.flatMap(({ asks, says }) =>
    asks(move).every((any) => oneIsSo(any, facts)) ? [] : says(move),
  );
  return needs.length + forbidden.length === 0 ? undefined : { needs, forbidden };
}
