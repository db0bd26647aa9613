import { ANY, namesOf, tellFact, unmet, type FactName, type Facts } from "@/core/job/fact";
import type { Invariant, Move } from "@/core/job/planning/move";
import { cheapestPath } from "@/core/job/planning/search";
import { NOTHING, type Atom, type Step, type Task } from "@/core/job/planning/task";

/** More than any number of steps: of two ways the one that supposes less is the cheaper one. */
const SUPPOSED = 10_000;

/** The same task, in which each of these may be supposed to be so from the beginning. The steps come after those that there are. */
function supposing(task: Task, atoms: readonly Atom[]): Task {
  // a fact of its own says whether something has been done yet: what is supposed was so before
  const [untouched, touched] = [task.atoms.length, task.atoms.length + 1];
  const phase = task.start.length;
  return {
    ...task,
    factOf: [...task.factOf, phase, phase],
    start: [...task.start, untouched],
    steps: [
      ...task.steps.map((step): Step => ({ ...step, gives: [...step.gives, touched], cost: 1 })),
      ...atoms.map((atom, i): Step => ({
        no: task.steps.length + i,
        needs: [[untouched]],
        gives: [atom],
        clears: [],
        cost: SUPPOSED,
      })),
    ],
  };
}

/** What is told of a goal that cannot be reached may be less than all; it does not take longer than a plan. */
const MOST_STATES = 2_000;

const asks = (facts: Facts, name: FactName, value: string) => facts[name] === ANY || facts[name] === value;

export interface Lacks {
  /** Facts that, were they so from the beginning, would let the goal be reached: as few as there can be. */
  readonly missing: readonly string[];
  /** Those of them that no move needs and an invariant asks for: in its words. */
  readonly because: readonly string[];
}

/** What a goal that cannot be reached lacks: of what nothing brings about, or where that is not it, of all that is needed. */
export function lacksOf<M extends Move>(
  task: Task,
  {
    start,
    wanted,
    moves,
    invariants,
  }: { start: Facts; wanted: Facts; moves: readonly M[]; invariants: readonly Invariant<M>[] },
): Lacks {
  const given = new Set(task.steps.flatMap(({ gives }) => gives));
  const own = new Set(task.wanted.flat());
  const needed = new Set([...task.wanted, ...task.steps.flatMap(({ needs }) => needs)].flat());
  const absent = [...needed].filter((atom) => atom !== NOTHING && !task.start.includes(atom)).sort((a, b) => a - b);
  const reach = (atoms: readonly Atom[]) => cheapestPath(supposing(task, atoms), { mostStates: MOST_STATES });
  const nobodys = absent.filter((atom) => !given.has(atom));
  const found = reach(nobodys) ?? reach(absent.filter((atom) => !given.has(atom) || !own.has(atom)));
  if (!found) return { missing: unmet(start, wanted).map((name) => tellFact(name, wanted[name] ?? ANY)), because: [] };
  const taken = found.steps.flatMap(({ no }) => moves[no] ?? []);
  const supposed = found.steps.filter(({ no }) => no >= moves.length).flatMap(({ gives }) => gives);
  const missing: string[] = [];
  const because = new Set<string>();
  for (const atom of supposed) {
    const [name, value] = task.atoms[atom] ?? ["visit: signed off", ANY];
    const needs = [wanted, ...taken.map((move) => move.needs)].some((facts) => asks(facts, name, value));
    const forbids = taken.flatMap((move) =>
      invariants.flatMap(({ asks: asked, says }) =>
        asked(move).some((any) => namesOf(any).includes(name) && asks(any, name, value)) ? says(move) : [],
      ),
    );
    if (needs || forbids.length === 0) missing.push(tellFact(name, value));
    else forbids.forEach((sentence) => because.add(sentence));
  }
  return { missing: missing.sort(), because: [...because] };
}
