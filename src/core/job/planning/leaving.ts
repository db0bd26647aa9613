import { NOTHING, type Atom, type Clause, type State, type Task } from "@/core/job/planning/task";

const WORD = 32;

/** Sets of atoms as bits. */
class Bits {
  readonly words: Uint32Array;
  constructor(size: number, full = false) {
    this.words = new Uint32Array(Math.ceil(size / WORD)).fill(full ? 0xffff_ffff : 0);
  }
  has(atom: Atom): boolean {
    return ((this.words[atom >>> 5] ?? 0) & (1 << (atom & 31))) !== 0;
  }
  add(atom: Atom): void {
    this.words[atom >>> 5] = (this.words[atom >>> 5] ?? 0) | (1 << (atom & 31));
  }
  unite({ words }: Bits): void {
    for (let i = 0; i < this.words.length; i++) this.words[i] = (this.words[i] ?? 0) | (words[i] ?? 0);
  }
  /** Keeps what the other holds as well; whether anything went. */
  meet({ words }: Bits): boolean {
    let less = false;
    for (let i = 0; i < this.words.length; i++) {
      const own = this.words[i] ?? 0;
      const both = own & (words[i] ?? 0);
      if (own >>> 0 !== both >>> 0) less = true;
      this.words[i] = both;
    }
    return less;
  }
}

const onlyOf = (clauses: readonly Clause[]): Atom[] =>
  clauses.flatMap((clause) => (clause.length === 1 && clause[0] !== undefined && clause[0] !== NOTHING ? clause : []));

/** Of a state: sets of steps, of each of which every plan from there holds one. */
export type Leavings = (state: State) => readonly (readonly number[])[];

/**
 * What has to be left again: a value that a fact must come to have on every way to what is wanted (a landmark in the task in
 * which nothing is undone; Keyder, Richter and Helmert, Sound and complete landmarks for And/Or graphs, ECAI 2010), while
 * later the same fact must have another one. Of the steps that lead away from it every plan holds one: sets of them, which an
 * estimate that knows of no undoing would miss. “The battery goes in for the controllers and comes out again.”
 */
export function leavingsOf(task: Task): Leavings {
  const { atoms, factOf, steps, wanted } = task;
  const needs = steps.map((step) => onlyOf(step.needs));
  const givers: number[][] = atoms.map(() => []);
  for (const { no, gives } of steps) for (const atom of gives) givers[atom]?.push(no);
  const ends = onlyOf(wanted);
  /** Steps after which a fact is no more what it was, of those that can be taken while it is that. */
  const away = atoms.map((_, atom) => {
    const fact = factOf[atom] ?? 0;
    return steps.flatMap(({ no, gives, clears }) => {
      const changes = clears.includes(fact) || gives.some((given) => factOf[given] === fact && given !== atom);
      const can = (needs[no] ?? []).every((need) => factOf[need] !== fact || need === atom);
      return changes && can ? [no] : [];
    });
  });

  /** Of each atom that is not so: what must have come to be before it or with it, on whatever way. */
  function before(isSo: (atom: Atom) => boolean): Bits[] {
    const found = atoms.map((_, atom) => new Bits(atoms.length, !isSo(atom)));
    for (let changed = true; changed;) {
      changed = false;
      for (const [atom, own] of found.entries()) {
        if (isSo(atom)) continue;
        for (const giver of givers[atom] ?? []) {
          const through = new Bits(atoms.length);
          for (const need of needs[giver] ?? [])
            if (!isSo(need)) {
              through.add(need);
              through.unite(found[need] ?? through);
            }
          // what comes to be with it
          for (const given of steps[giver]?.gives ?? []) if (given !== atom && !isSo(given)) through.add(given);
          if (own.meet(through)) changed = true;
        }
      }
    }
    return found;
  }

  const endOf = (atom: Atom) => ends.find((end) => factOf[end] === factOf[atom]);
  const needsOfAll = (which: readonly number[]): Atom[] => {
    const [first, ...others] = which;
    return first === undefined
      ? []
      : (needs[first] ?? []).filter((need) => others.every((no) => needs[no]?.includes(need)));
  };

  /**
   * A value that is so, or comes to be, and is not so in the end is left after all that can be done only while it is so. What
   * every step away from it needs, and something of that kind has changed, is brought about again before, while it is so: the
   * battery goes in for what is behind an open line, and has to come out while that is open still.
   */
  function meanwhile(isSo: (atom: Atom) => boolean, landmarks: Bits, left: ReadonlySet<Atom>): number[][] {
    return atoms.flatMap((_, value) => {
      const end = endOf(value);
      if (end === undefined || end === value || !(isSo(value) || left.has(value))) return [];
      const stays = (no: number) => (needs[no] ?? []).every((need) => factOf[need] !== factOf[value] || need === value);
      const wanted = needsOfAll(away[value] ?? []).filter((need) => factOf[need] !== factOf[value]);
      return wanted.flatMap((needed) =>
        atoms.flatMap((__, other) => {
          const changes = other !== needed && factOf[other] === factOf[needed] && !isSo(other) && landmarks.has(other);
          const only = changes && needsOfAll(givers[other] ?? []).includes(value);
          return only ? [(away[other] ?? []).filter(stays)] : [];
        }),
      );
    });
  }

  return (state) => {
    const isSo = (atom: Atom) => state[factOf[atom] ?? 0] === atom;
    const preceding = before(isSo);
    const landmarks = new Bits(atoms.length);
    for (const end of ends)
      if (!isSo(end)) {
        landmarks.add(end);
        landmarks.unite(preceding[end] ?? landmarks);
      }
    const left = new Set<Atom>();
    /** Whatever must have been so by then has to be left for this value of the same fact. */
    const leaveFor = (value: Atom, earlier: Bits) => {
      for (const [atom] of atoms.entries())
        if (atom !== value && factOf[atom] === factOf[value] && !isSo(atom) && earlier.has(atom)) left.add(atom);
    };
    for (const end of ends) leaveFor(end, landmarks);
    for (const [atom] of atoms.entries()) {
      const [first, ...others] = givers[atom] ?? [];
      if (first === undefined || !landmarks.has(atom)) continue;
      for (const value of needs[first] ?? []) {
        if (!others.every((giver) => needs[giver]?.includes(value))) continue;
        // what every giver needs beside it, and what came before that
        const earlier = new Bits(atoms.length);
        for (const need of needs[first] ?? [])
          if (need !== value && !isSo(need) && others.every((giver) => needs[giver]?.includes(need)))
            earlier.unite(preceding[need] ?? earlier);
        leaveFor(value, earlier);
      }
    }
    return [...[...left].map((atom) => away[atom] ?? []), ...meanwhile(isSo, landmarks, left)];
  };
}
