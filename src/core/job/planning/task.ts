import { ANY, namesOf, YES, type FactName, type Facts } from "@/core/job/fact";
import { costOf, type AnyOf, type Invariant, type Move } from "@/core/job/planning/move";

/** One value of one fact, by its number in the task. */
export type Atom = number;
/** Met as soon as one of its atoms is so. */
export type Clause = readonly Atom[];

/** A move in numbers. */
export interface Step {
  /** Its place among the moves. */
  readonly no: number;
  /** All of them have to be met: its needs, and what the invariants ask of it. */
  readonly needs: readonly Clause[];
  readonly gives: readonly Atom[];
  /** Facts that are not so afterwards, by their numbers. */
  readonly clears: readonly number[];
  readonly cost: number;
}

/** What is so: of each fact the atom that is, or `NOTHING`. */
export type State = readonly Atom[];
export const NOTHING = -1;

/** A planning task in numbers: the same for the same facts and moves, whatever order the facts were told in. */
export interface Task {
  /** The fact that each atom is a value of. */
  readonly factOf: readonly number[];
  readonly atoms: readonly (readonly [name: FactName, value: string])[];
  readonly start: State;
  readonly wanted: readonly Clause[];
  readonly steps: readonly Step[];
}

/** Costs are whole numbers of this part of a second, so that sums are exact. */
export const COST_UNIT = 1000;

export function taskOf<M extends Move>(
  start: Facts,
  wanted: Facts,
  moves: readonly M[],
  invariants: readonly Invariant<M>[],
): Task {
  const asked = moves.map((move) => invariants.flatMap(({ asks }) => asks(move)));
  const values = new Map<FactName, Set<string>>();
  const note = (facts: Facts) => {
    for (const name of namesOf(facts)) {
      const known = values.get(name) ?? new Set();
      // where any value will do, one that nothing tells of will do as well
      known.add(facts[name] === ANY ? YES : (facts[name] ?? ""));
      values.set(name, known);
    }
  };
  [start, wanted, ...moves.flatMap(({ needs, gives }) => [needs, gives]), ...asked.flat()].forEach(note);
  const names = [...values.keys()].sort();
  const numberOf = new Map(names.map((name, no) => [name, no]));
  const atoms = names.flatMap((name) => [...(values.get(name) ?? [])].sort().map((value) => [name, value] as const));
  const atomOf = new Map(atoms.map(([name, value], atom) => [`${name}=${value}`, atom]));
  const factOf = atoms.map(([name]) => numberOf.get(name) ?? 0);
  const alternatives = (name: FactName, value: string | undefined): Atom[] =>
    value === ANY
      ? atoms.flatMap(([of], atom) => (of === name ? [atom] : []))
      : [atomOf.get(`${name}=${value}`) ?? NOTHING];
  const each = (facts: Facts): Clause[] => namesOf(facts).map((name) => alternatives(name, facts[name]));
  const anyOf = (facts: AnyOf): Clause => namesOf(facts).flatMap((name) => alternatives(name, facts[name]));
  const steps = moves.map((move, no): Step => {
    const given = namesOf(move.gives);
    return {
      no,
      needs: [...each(move.needs), ...(asked[no] ?? []).map(anyOf)],
      gives: each(move.gives).flat(),
      clears: move.undoes.flatMap((name) => (given.includes(name) ? [] : (numberOf.get(name) ?? []))),
      cost: Math.round(costOf(move) * COST_UNIT),
    };
  });
  const begins = names.map((name) => atomOf.get(`${name}=${start[name] ?? ""}`) ?? NOTHING);
  return {
    factOf,
    atoms,
    start: begins.map((atom, no) => (start[names[no] ?? "visit: signed off"] === undefined ? NOTHING : atom)),
    wanted: each(wanted),
    steps,
  };
}

export const isMet = (clause: Clause, state: State, { factOf }: Task): boolean =>
  clause.some((atom) => state[factOf[atom] ?? 0] === atom);

export const areMet = (clauses: readonly Clause[], state: State, task: Task): boolean =>
  clauses.every((clause) => isMet(clause, state, task));

/** Whether it brings about what is not so: a step that only undoes leads nowhere, since nothing needs that a fact is not. */
export const changes = ({ gives }: Step, state: State, { factOf }: Task): boolean =>
  gives.some((atom) => state[factOf[atom] ?? 0] !== atom);

export function afterStep({ gives, clears }: Step, state: State, { factOf }: Task): State {
  const next = [...state];
  for (const fact of clears) next[fact] = NOTHING;
  for (const atom of gives) next[factOf[atom] ?? 0] = atom;
  return next;
}

/** The same for the same state, and for no other. */
export const keyOfState = (state: State): string => String.fromCharCode(...state.map((atom) => atom + 1));
