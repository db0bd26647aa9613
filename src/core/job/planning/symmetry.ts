import { keyOfState, NOTHING, type Atom, type Clause, type State, type Task } from "@/core/job/planning/task";

const LOADER = " loader";

/** Whom a fact is of: a loader's facts belong to its part. */
function ownerOf(name: string): string {
  const subject = name.slice(0, Math.max(0, name.indexOf(": ")));
  return subject.endsWith(LOADER) ? subject.slice(0, -LOADER.length) : subject;
}

interface Owner {
  readonly name: string;
  /** Its atoms, in an order that is the same for all who are alike. */
  readonly atoms: readonly Atom[];
  readonly facts: readonly number[];
  /** What there is to be so of it, without its name. */
  readonly says: string;
}

function ownersIn({ atoms, factOf }: Task): Owner[] {
  const found = new Map<string, Atom[]>();
  for (const [atom, [name]] of atoms.entries()) {
    const owner = ownerOf(name);
    found.set(owner, [...(found.get(owner) ?? []), atom]);
  }
  return [...found].map(([name, own]) => {
    const text = (atom: Atom) => `${atoms[atom]?.[0].slice(name.length) ?? ""}=${atoms[atom]?.[1] ?? ""}`;
    const sorted = own.toSorted((a, b) => (text(a) < text(b) ? -1 : 1));
    return {
      name,
      atoms: sorted,
      facts: [...new Set(sorted.map((atom) => factOf[atom] ?? 0))],
      says: sorted.map(text).join("\n"),
    };
  });
}

const inOrder = (numbers: Iterable<number>) => [...numbers].sort((a, b) => a - b).join();

/** A task's steps and wishes in one text, with atoms and facts under other numbers. */
function shapeOf(
  { steps, wanted }: Task,
  atom: (atom: Atom) => Atom = (same) => same,
  fact: (fact: number) => number = (same) => same,
): string {
  const clauses = (all: readonly Clause[]) =>
    all
      .map((clause) => inOrder(clause.map(atom)))
      .sort()
      .join(";");
  const each = steps.map(
    ({ needs, gives, clears, cost }) =>
      `${clauses(needs)}>${inOrder(gives.map(atom))}>${inOrder(clears.map(fact))}>${cost}`,
  );
  return `${each.sort().join("\n")}\n${clauses(wanted)}`;
}

/** Whether a task is the same with two of its owners in each other's place. */
function areAlike(task: Task, shape: string, one: Owner, other: Owner): boolean {
  const swapped = new Map<Atom, Atom>();
  const moved = new Map<number, number>();
  one.atoms.forEach((atom, i) => {
    const twin = other.atoms[i] ?? NOTHING;
    swapped.set(atom, twin).set(twin, atom);
    const [from, to] = [task.factOf[atom] ?? 0, task.factOf[twin] ?? 0];
    moved.set(from, to).set(to, from);
  });
  return (
    shape ===
    shapeOf(
      task,
      (atom) => swapped.get(atom) ?? atom,
      (fact) => moved.get(fact) ?? fact,
    )
  );
}

/** Owners that can stand in each other's place, in sets of two and more. */
function alikeIn(task: Task): Owner[][] {
  const owners = ownersIn(task);
  const bySays = new Map<string, Owner[]>();
  for (const owner of owners) bySays.set(owner.says, [...(bySays.get(owner.says) ?? []), owner]);
  const several = [...bySays.values()].filter(({ length }) => length > 1);
  if (several.length === 0) return [];
  const shape = shapeOf(task);
  return several.flatMap((candidates) => {
    const sets: Owner[][] = [];
    for (const owner of candidates) {
      const set = sets.find(([first]) => first !== undefined && areAlike(task, shape, first, owner));
      if (set) set.push(owner);
      else sets.push([owner]);
    }
    return sets.filter(({ length }) => length > 1);
  });
}

/**
 * A text that is the same for states from which the same ways lead on, with parts in each other's place: four controllers of
 * which any one is read are one state and not four (symmetry of a task; Pochter, Zohar and Rosenschein, Exploiting problem
 * symmetries in state-based planners, AAAI 2011). Whether parts are alike is found from the task itself: where one differs in
 * anything, it stands for itself.
 */
export function alikeKeyOf(task: Task): (state: State) => string {
  const sets = alikeIn(task);
  if (sets.length === 0) return keyOfState;
  const placeOf = new Map<Atom, number>();
  for (const set of sets) for (const { atoms } of set) atoms.forEach((atom, i) => placeOf.set(atom, i + 1));
  const shared = new Set(sets.flat().flatMap(({ facts }) => facts));
  const alone = task.start.flatMap((_, fact) => (shared.has(fact) ? [] : [fact]));
  return (state) => {
    const own = keyOfState(alone.map((fact) => state[fact] ?? NOTHING));
    const rest = sets.map((set) =>
      set
        .map(({ facts }) => String.fromCharCode(...facts.map((fact) => placeOf.get(state[fact] ?? NOTHING) ?? 0)))
        .sort()
        .join(""),
    );
    return [own, ...rest].join("");
  };
}
