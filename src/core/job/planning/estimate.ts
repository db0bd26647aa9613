import type { Leavings } from "@/core/job/planning/leaving";
import { NOTHING, type Atom, type Clause, type State, type Step, type Task } from "@/core/job/planning/task";

/** Moves of which every plan has to hold one, by their operators, and what is paid for that. */
export interface Cut {
  readonly ops: readonly number[];
  readonly cost: number;
}

export interface Weight {
  /** `Infinity`: not even where nothing is ever undone does a way lead to what is wanted. */
  readonly sum: number;
  readonly cuts: readonly Cut[];
}

/**
 * What is still to be paid at least from a state, never more than it really takes: the sum of the cheapest moves of sets of
 * which every plan has to hold one, each move's cost given to no two sets beyond what it is. The sets are cuts through the
 * task in which nothing is ever undone (the LM-cut estimate; Helmert and Domshlak, Landmarks, critical paths and
 * abstractions, ICAPS 2009, section 4). What every plan of the state before needed, but for the step that was taken, every
 * plan still needs: those sets are kept.
 */
export type Estimate = (state: State, before?: { readonly weight: Weight; readonly step: Step }) => Weight;

/** A move of the task without undoing: a clause of several alternatives is an atom of its own, which each of them gives. */
interface Relaxed {
  readonly needs: readonly Atom[];
  readonly gives: readonly Atom[];
  readonly cost: number;
}

interface RelaxedTask {
  readonly atoms: number;
  readonly ops: readonly Relaxed[];
  /** Which operators need an atom, and which give it. */
  readonly neededBy: readonly (readonly number[])[];
  readonly givenBy: readonly (readonly number[])[];
  /** So from the beginning, and what the last operator gives. */
  readonly always: Atom;
  readonly end: Atom;
  /** The operator of each step. */
  readonly opOf: readonly number[];
}

function relaxed({ atoms, steps, wanted }: Task): RelaxedTask {
  const ops: Relaxed[] = [];
  let next = atoms.length;
  const always = next++;
  const end = next++;
  const ofClause = new Map<string, Atom>();
  const oneAtom = (clause: Clause): Atom => {
    if (clause.length === 1 && clause[0] !== undefined && clause[0] !== NOTHING) return clause[0];
    const key = clause.join();
    const known = ofClause.get(key);
    if (known !== undefined) return known;
    const made = next++;
    ofClause.set(key, made);
    for (const atom of clause) if (atom !== NOTHING) ops.push({ needs: [atom], gives: [made], cost: 0 });
    return made;
  };
  const needsOf = (clauses: readonly Clause[]) =>
    clauses.length === 0 ? [always] : [...new Set(clauses.map(oneAtom))];
  const opOf = steps.map(({ needs, gives, cost }) => ops.push({ needs: needsOf(needs), gives, cost }) - 1);
  ops.push({ needs: needsOf(wanted), gives: [end], cost: 0 });
  const table = (of: (op: Relaxed) => readonly Atom[]) => {
    const rows = Array.from({ length: next }, (): number[] => []);
    ops.forEach((op, no) => of(op).forEach((atom) => rows[atom]?.push(no)));
    return rows;
  };
  const [neededBy, givenBy] = [table(({ needs }) => needs), table(({ gives }) => gives)];
  return { atoms: next, ops, neededBy, givenBy, always, end, opOf };
}

const NEVER = 0x7fffffff;

/** The estimate for one task, with what else every plan is known to hold one of; it keeps its tables from one state to the next. */
export function estimateOf(task: Task, leavings: Leavings = () => []): Estimate {
  const { atoms, ops, neededBy, givenBy, always, end, opOf } = relaxed(task);
  const cost = new Int32Array(ops.length);
  /** What it costs at least to make an atom so, if of several needs the dearest alone were to be paid. */
  const worth = new Int32Array(atoms);
  const open = new Int32Array(ops.length);
  /** The dearest need of each operator. */
  const dearest = new Int32Array(ops.length);
  const done = new Uint8Array(atoms);
  const nearEnd = new Uint8Array(atoms);
  const nearStart = new Uint8Array(atoms);
  let begins: Atom[] = [];

  function weigh(): void {
    worth.fill(NEVER);
    done.fill(0);
    ops.forEach(({ needs }, no) => (open[no] = needs.length));
    // atoms of one worth after the other; costs are few different numbers, so that most of a level comes at once
    const levels = new Map<number, Atom[]>([[0, []]]);
    const put = (atom: Atom, at: number) => {
      if ((worth[atom] ?? 0) <= at) return;
      worth[atom] = at;
      const level = levels.get(at);
      if (level) level.push(atom);
      else levels.set(at, [atom]);
    };
    for (const atom of begins) put(atom, 0);
    while (levels.size > 0) {
      const at = Math.min(...levels.keys());
      const level = levels.get(at) ?? [];
      // what costs nothing more joins it as it is gone through
      for (const atom of level) {
        if (done[atom] || worth[atom] !== at) continue;
        done[atom] = 1;
        for (const no of neededBy[atom] ?? []) {
          open[no] = (open[no] ?? 0) - 1;
          if (open[no] !== 0) continue;
          dearest[no] = atom;
          for (const given of ops[no]?.gives ?? []) put(given, at + (cost[no] ?? 0));
        }
      }
      levels.delete(at);
    }
  }

  /** The atoms from which the end is reached for nothing, each operator seen from its dearest need. */
  function zoneOfEnd(): void {
    nearEnd.fill(0);
    nearEnd[end] = 1;
    const list: Atom[] = [end];
    for (const atom of list)
      for (const no of givenBy[atom] ?? []) {
        const need = dearest[no] ?? 0;
        if (open[no] !== 0 || cost[no] !== 0 || nearEnd[need]) continue;
        nearEnd[need] = 1;
        list.push(need);
      }
  }

  /** The operators that lead from what can be had before into the zone of the end: one of them is in every plan. */
  function cut(): number[] {
    nearStart.fill(0);
    const found: number[] = [];
    const list: Atom[] = [];
    const reach = (atom: Atom) => {
      if (nearStart[atom] || nearEnd[atom]) return;
      nearStart[atom] = 1;
      list.push(atom);
    };
    begins.forEach(reach);
    for (const atom of list)
      for (const no of neededBy[atom] ?? []) {
        if (open[no] !== 0 || dearest[no] !== atom) continue;
        const gives = ops[no]?.gives ?? [];
        if (gives.some((given) => nearEnd[given])) found.push(no);
        else gives.forEach(reach);
      }
    return found;
  }

  return (state, before) => {
    const taken = before && opOf[before.step.no];
    const cuts = before?.weight.cuts.filter((each) => !each.ops.includes(taken ?? -1)) ?? [];
    ops.forEach((op, no) => (cost[no] = op.cost));
    const pay = (each: Cut) => each.ops.forEach((no) => (cost[no] = (cost[no] ?? 0) - each.cost));
    cuts.forEach(pay);
    begins = [always, ...state.filter((atom) => atom !== NOTHING)];
    for (const steps of leavings(state)) {
      const away = steps.map((no) => opOf[no] ?? 0);
      // a value that nothing leads away from: there is no way
      if (away.length === 0) return { sum: Infinity, cuts: [] };
      const found = { ops: away, cost: Math.min(...away.map((no) => cost[no] ?? 0)) };
      if (found.cost === 0) continue;
      cuts.push(found);
      pay(found);
    }
    for (;;) {
      weigh();
      if (worth[end] === NEVER) return { sum: Infinity, cuts: [] };
      if (worth[end] === 0) return { sum: cuts.reduce((sum, each) => sum + each.cost, 0), cuts };
      zoneOfEnd();
      const through = cut();
      const found = { ops: through, cost: Math.min(...through.map((no) => cost[no] ?? 0)) };
      cuts.push(found);
      pay(found);
    }
  };
}
