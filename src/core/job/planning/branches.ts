import {
  areMet,
  changes,
  isMet,
  type Atom,
  type Clause,
  type State,
  type Step,
  type Task,
} from "@/core/job/planning/task";

/**
 * Which steps have to be tried in a state, so that the cheapest of all orders is still found: steps that have nothing to do
 * with each other are tried in one order alone. A strong stubborn set (Wehrle and Helmert, Efficient stubborn sets, ICAPS
 * 2014, definition 2): it holds all givers of one thing that is still wanted; of each of its steps that can be taken, those
 * that get in its way or it in theirs; of each that cannot, all givers of one thing that it lacks.
 */
export function branchesOf(task: Task): (state: State) => readonly Step[] {
  const { steps, factOf, wanted, atoms } = task;
  const givers: Step[][] = atoms.map(() => []);
  for (const step of steps) for (const atom of step.gives) givers[atom]?.push(step);
  const givesAnyOf = (clause: Clause): Step[] => clause.flatMap((atom) => givers[atom] ?? []);

  const written = steps.map(({ gives, clears }) => {
    const facts = new Map<number, Atom | undefined>(clears.map((fact) => [fact, undefined]));
    for (const atom of gives) facts.set(factOf[atom] ?? 0, atom);
    return facts;
  });
  const needed = steps.map(({ needs }) => new Set(needs.flat()));
  const valuesOf: Atom[][] = [];
  factOf.forEach((fact, atom) => (valuesOf[fact] ??= []).push(atom));
  /** Whether one step can take from the other what it needs, or leave another value behind than it. */
  const spoils = (one: number, other: number): boolean => {
    for (const [fact, atom] of written[one] ?? []) {
      const left = written[other];
      if (left?.has(fact) && left.get(fact) !== atom) return true;
      if (valuesOf[fact]?.some((value) => value !== atom && needed[other]?.has(value))) return true;
    }
    return false;
  };
  const known: (readonly Step[] | undefined)[] = [];
  const inTheWayOf = ({ no }: Step): readonly Step[] =>
    (known[no] ??= steps.filter((other) => other.no !== no && (spoils(no, other.no) || spoils(other.no, no))));

  return (state) => {
    const chosen = new Uint8Array(steps.length);
    const list: Step[] = [];
    const choose = (found: readonly Step[]) => {
      for (const step of found) {
        if (chosen[step.no]) continue;
        chosen[step.no] = 1;
        list.push(step);
      }
    };
    /** Of what is lacking that which draws in the fewest steps that are not chosen yet. */
    const chooseGivers = (clauses: readonly Clause[]) => {
      let fewest: Step[] | undefined;
      let least = Infinity;
      for (const clause of clauses) {
        if (isMet(clause, state, task)) continue;
        const found = givesAnyOf(clause);
        const more = found.filter(({ no }) => !chosen[no]).length;
        if (more < least) [fewest, least] = [found, more];
      }
      choose(fewest ?? []);
    };
    chooseGivers(wanted);
    const can: Step[] = [];
    // grows as it is gone through
    for (const step of list) {
      if (areMet(step.needs, state, task)) {
        can.push(step);
        choose(inTheWayOf(step));
      } else chooseGivers(step.needs);
    }
    return can.filter((step) => changes(step, state, task)).sort((a, b) => a.no - b.no);
  };
}
