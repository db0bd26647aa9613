/** A table of a drawn release, and what a passage does to it. */

/* eslint-disable @typescript-eslint/no-explicit-any, @typescript-eslint/no-unsafe-assignment, @typescript-eslint/no-unsafe-member-access, @typescript-eslint/no-unsafe-argument, @typescript-eslint/no-unsafe-call */
type Any = any;

/** A source of choices: fast-check's numbers, used one after the other. */
export class Lot {
  private at = 0;
  constructor(private readonly numbers: readonly number[]) {}
  below(n: number): number {
    const next = this.numbers[this.at++ % this.numbers.length] ?? 0;
    // one number is used more than once: mixed with its turn, so that the turns differ
    return Math.floor((((next ^ (this.at * 0x9e3779b1)) >>> 0) / 2 ** 32) * n);
  }
  chance(percent: number): boolean {
    return this.below(100) < percent;
  }
  one<T>(all: readonly T[]): T {
    return all[this.below(all.length)] as T;
  }
  shuffled<T>(all: readonly T[]): T[] {
    const left = [...all];
    return all.map(() => left.splice(this.below(left.length), 1)[0] as T);
  }
}

export function valueFor(type: Any, lot: Lot): Any {
  if (type.number) {
    const { min, max, step } = type.number;
    const steps = Math.floor((max - min) / step + 1e-9);
    return Number((Math.ceil(min / step - 1e-9) * step + lot.below(steps) * step).toFixed(3));
  }
  if (type.choice) return lot.one(type.choice);
  if (type.flags) return type.flags.filter(() => lot.chance(50));
  return lot.chance(50);
}

export interface LiveTable {
  use: string;
  size: string;
  words: string[];
  number: Any;
  rows: { key: string; cells: Any }[];
}

export const tableDocument = ({ use, size, words, number, rows }: LiveTable) => ({
  name: "ports",
  title: "Port",
  area: "ports",
  maxRows: 8,
  keys: [{ name: "port", title: "Port", type: { number: { min: 1, max: 6, step: 1 } }, default: 1 }],
  columns: [
    { name: use, title: "Use", type: { choice: words }, default: words[0] },
    { name: size, title: "Size", type: { number }, default: number.min },
    { name: "flipped", title: "Flipped", type: { switch: true }, default: false },
  ],
  rows,
});

export const drawnRow = (key: string, { use, size, words, number }: LiveTable, lot: Lot) => ({
  key,
  cells: {
    ...(lot.chance(80) ? { [use]: lot.one(words) } : {}),
    ...(lot.chance(70) ? { [size]: valueFor({ number }, lot) } : {}),
    ...(lot.chance(40) ? { flipped: lot.chance(50) } : {}),
  },
});

export function passTable(
  table: LiveTable,
  no: number,
  lot: Lot,
  restricts: boolean,
): { table: LiveTable; rules: Any[]; more: Any } {
  const rules: Any[] = [];
  const more: Any = {};
  let now = { ...table };
  const changes: Any[] = [];
  if (lot.chance(25)) {
    now = { ...now, use: `use${no}` };
    rules.push({ rule: "column", table: "ports", column: table.use, to: now.use, why: `Named anew in ${no}.` });
  }
  if (lot.chance(20)) {
    now = { ...now, size: `size${no}` };
    rules.push({ rule: "column", table: "ports", column: table.size, to: now.size, why: `Named anew in ${no}.` });
  }
  let wordsNow: Record<string, string> = {};
  if (lot.chance(30)) {
    const old = table.words;
    const next = old.map((w) => (lot.chance(50) ? `${w}${no}` : w));
    wordsNow = Object.fromEntries(old.map((w, i) => [w, next[i] ?? w]).filter(([a, b]) => a !== b || lot.chance(50)));
    if (Object.keys(wordsNow).length > 0)
      rules.push({ rule: "cells", table: "ports", column: table.use, words: wordsNow, why: `Words in ${no}.` });
    now = { ...now, words: lot.chance(70) ? next : [...next, `extra${no}`] };
    changes.push({ table: "ports", column: now.use, type: { choice: now.words }, default: now.words[0] });
  }
  if (lot.chance(30)) {
    const keys = lot.shuffled(["1", "2", "3", "4", "5", "6"]).slice(0, 3);
    const to = lot.chance(50) ? [...keys.slice(1), keys[0]] : [keys[1], keys[0], keys[2]];
    rules.push({
      rule: "renumber",
      table: "ports",
      rows: Object.fromEntries(keys.map((k, i) => [k, to[i]])),
      why: `Counted otherwise in ${no}.`,
    });
  }
  if (lot.chance(30)) {
    const factor = lot.one([10, 0.5, 2]);
    rules.push({
      rule: "ranges",
      table: "ports",
      columns: [table.size],
      factor,
      offset: lot.one([0, 5]),
      why: `Another measure in ${no}.`,
    });
    now = { ...now, number: { min: 0, max: lot.one([2000, 100]), step: lot.one([1, 5]) } };
    changes.push({ table: "ports", column: now.size, type: { number: now.number }, default: 0 });
  } else if (lot.chance(15)) {
    now = { ...now, number: { min: 0, max: lot.one([200, 40]), step: lot.one([1, 2]) } };
    changes.push({ table: "ports", column: now.size, type: { number: now.number }, default: 0 });
  }
  if (restricts && lot.chance(25))
    rules.push({
      rule: "restrict",
      table: "ports",
      column: table.use,
      value: lot.one(table.words),
      on: lot.shuffled(["1", "2", "3", "4", "5", "6"]).slice(0, 3),
      why: `Not everywhere since ${no}.`,
    });
  if (changes.length > 0) more.changeColumns = changes;
  // rows that hold what no column takes any more would be refused: they are stated anew wherever something changed
  if (changes.length > 0 || lot.chance(15)) {
    const own = { ...now };
    now = { ...now, rows: ["2", "4", "5"].filter(() => lot.chance(60)).map((key) => drawnRow(key, own, lot)) };
    more.changeRows = [{ table: "ports", rows: now.rows }];
  } else if (rules.length > 0) {
    // what they are now is for the two accounts to find out
    now = { ...now, rows: [] };
  }
  return { table: now, rules: lot.shuffled(rules), more };
}
