import fc from "fast-check";
import { drawnRow, Lot, passTable, tableDocument, valueFor, type LiveTable } from "./drawn-table";

/**
 * Chains of releases drawn by lot: every kind of rule, several about one setting, tables beside them. They are drawn by what
 * documents may say, not by what the product makes of it.
 */

/* eslint-disable @typescript-eslint/no-explicit-any, @typescript-eslint/no-unsafe-assignment, @typescript-eslint/no-unsafe-member-access, @typescript-eslint/no-unsafe-argument, @typescript-eslint/no-unsafe-call */
type Any = any;

const WORDS = ["calm", "brisk", "wild", "odd", "mild"];
const FLAGS = ["red", "green", "blue"];

interface Live {
  key: string;
  scope: string;
  type: Any;
  default: Any;
  byTarget?: Any;
  byProcessor?: Any;
}

const numeric = (lot: Lot): Any => {
  const step = lot.one([1, 1, 0.1, 0.5, 5, 0.01]);
  const low = lot.one([0, 0, -50, 10]);
  const min = Number((low * step).toFixed(2));
  return {
    number: { min, max: Number(((low + lot.one([40, 100, 400])) * step).toFixed(2)), step, unit: lot.one(["m", "s"]) },
  };
};

const typeFor = (lot: Lot): Any =>
  lot.chance(60)
    ? numeric(lot)
    : lot.one([{ choice: lot.shuffled(WORDS).slice(0, 3) }, { switch: true }, { flags: FLAGS }]);

const written = ({ key, scope, type, default: value, byTarget, byProcessor }: Live) => ({
  key,
  title: key,
  area: "tune",
  scope,
  type,
  default: value,
  says: "Drawn by lot.",
  ...(byTarget ? { defaultByTarget: byTarget } : {}),
  ...(byProcessor ? { maxByProcessor: byProcessor } : {}),
});

const head = (id: number) => ({
  document: "release",
  id: `Drawn-${id}`,
  family: "Drawn",
  version: String(id),
  standing: "stable",
  builtOn: "2026-01-01",
  region: { format: `drawn-${id}`, stale: "refuse" },
});

const SCALES = [
  { factor: 10 },
  { factor: 0.1 },
  { factor: 2, offset: 5 },
  { factor: 0.01 },
  { factor: -1, offset: 100 },
];

/** A type that a rescaled number fits into, in another unit. */
const scaledType = (type: Any, { factor, offset = 0 }: { factor: number; offset?: number }, lot: Lot): Any => {
  const { min, max, step, unit } = type.number;
  const ends = [min, max].map((n: number) => n * factor + offset).sort((a, b) => a - b);
  const next = lot.one([1, 0.1, 0.5, 5]);
  const wide = lot.chance(70);
  const low = Math.floor((ends[0] ?? 0) / next) * next - (wide ? next : 0);
  const high = Math.max(low + 10 * next, Math.ceil(((ends[1] ?? 1) * (wide ? 1 : 0.7)) / next) * next);
  return {
    number: {
      min: Number(low.toFixed(2)),
      max: Number(high.toFixed(2)),
      step: next,
      unit: unit === "m" ? "cm" : lot.chance(50) ? "ms" : `k${String(step)}`,
    },
  };
};

/** What is drawn of one setting on one passage. */
function passSetting(one: Live, no: number, lot: Lot, out: { rules: Any[]; change: Any[]; add: Any[] }, live: Live[]) {
  const say = (why: string) => `${why} in ${no}.`;
  const kinds = one.type.number ? 10 : one.type.choice || one.type.flags ? 8 : 7;
  const what = lot.below(22);
  let now: Live = one;
  const changed: Any = { key: one.key };
  const named = lot.chance(30) && what < kinds;
  if (what === 0) {
    out.rules.push({ rule: "retire", key: one.key, why: say("Gone") });
    return;
  }
  if (what === 1) {
    const parts = [`${one.key}.a${no}`, lot.chance(30) ? one.key : `${one.key}.b${no}`];
    out.rules.push({ rule: "split", key: one.key, into: parts, why: say("Apart") });
    const scope = lot.chance(20) ? lot.one(["system", "tune", "feel"]) : one.scope;
    if (scope !== one.scope) out.rules.push({ rule: "move", key: one.key, to: scope, why: say("Elsewhere") });
    const scale = one.type.number && lot.chance(50) ? lot.one(SCALES) : undefined;
    const of = scale && lot.chance(50) ? parts[1] : undefined;
    if (scale)
      out.rules.push({ rule: "rescale", key: one.key, ...(of ? { part: of } : {}), ...scale, why: say("Unit") });
    for (const key of parts) {
      const type = scale && (of === undefined || of === key) ? scaledType(one.type, scale, lot) : one.type;
      const part = { key, scope, type, default: valueFor(type, lot) };
      out.add.push(written(part));
      live.push(part);
    }
    if (one.type.number && lot.chance(30))
      out.rules.push({
        rule: "behaviour",
        key: one.key,
        ...(lot.chance(50) ? { part: parts[0] } : {}),
        why: say("Feels"),
        suggest: { factor: 0.5, offset: 1 },
      });
    return;
  }
  const newKey = named ? `${one.key}.n${no}` : one.key;
  let byValue = false;
  if ((what === 2 || what === 3 || what === 4) && one.type.number) {
    const scale = lot.one(SCALES);
    byValue = named && lot.chance(50);
    out.rules.push({ rule: "rescale", key: one.key, ...scale, ...(byValue ? { to: newKey } : {}), why: say("Unit") });
    const type = scaledType(one.type, scale, lot);
    now = { ...now, type, default: valueFor(type, lot) };
    Object.assign(changed, { type, default: now.default });
    if (now.byTarget) {
      const mine = { T1: valueFor(type, lot) };
      changed.defaultByTarget = mine;
      now = { ...now, byTarget: mine };
    }
    if (now.byProcessor) {
      const { max } = type.number;
      changed.maxByProcessor = { P: max };
      now = { ...now, byProcessor: { P: max } };
    }
  } else if ((what === 2 || what === 3) && one.type.choice) {
    const others = lot.shuffled([...WORDS, "new", "newer"]).slice(0, 4);
    const words = Object.fromEntries(
      one.type.choice.filter(() => lot.chance(85)).map((w: string) => [w, lot.one(others)]),
    );
    if (Object.keys(words).length > 0) {
      byValue = named && lot.chance(50);
      out.rules.push({ rule: "map", key: one.key, words, ...(byValue ? { to: newKey } : {}), why: say("Words") });
      now = { ...now, type: { choice: others }, default: lot.one(others) };
      Object.assign(changed, { type: now.type, default: now.default });
      delete now.byTarget;
    }
  } else if ((what === 2 || what === 3) && one.type.switch) {
    out.rules.push({
      rule: "map",
      key: one.key,
      words: { true: "always", false: "never" },
      why: say("More than on and off"),
    });
    now = { ...now, type: { choice: ["always", "never", "once"] }, default: "once" };
    delete now.byTarget;
    Object.assign(changed, { type: now.type, default: now.default });
  } else if (what === 2 && one.type.flags) {
    out.rules.push({ rule: "map", key: one.key, words: { red: "green", green: "red" }, why: say("Colours") });
  }
  if (named && !byValue) out.rules.push({ rule: "rename", key: one.key, to: newKey });
  now = { ...now, key: newKey };
  changed.key = newKey;
  if (what === 5 || (what < 5 && lot.chance(15))) {
    const scope = lot.one(["system", "tune", "feel"].filter((each) => each !== one.scope));
    out.rules.push({ rule: "move", key: one.key, to: scope, why: say("Elsewhere") });
    now = { ...now, scope };
  }
  if (what === 6 || ((what === 2 || what === 7) && lot.chance(50)))
    out.rules.push({
      rule: "behaviour",
      key: one.key,
      why: say("Feels otherwise"),
      ...(one.type.number && lot.chance(75)
        ? { suggest: lot.one([{ factor: 2 }, { factor: 0.5, offset: 1 }, { factor: 1, offset: 3 }]) }
        : {}),
    });
  if (changed.default === undefined && lot.chance(20)) {
    if (now.type.number && lot.chance(40)) {
      const { min, max, step, unit } = now.type.number;
      const next = lot.one([step, step * 2]);
      const low = Math.ceil(min / next - 1e-9) * next;
      now = {
        ...now,
        type: {
          number: {
            min: Number(low.toFixed(3)),
            max: Number((low + Math.max(2, Math.floor(((max - min) / next) * lot.one([0.4, 1]))) * next).toFixed(3)),
            step: next,
            unit,
          },
        },
      };
      changed.type = now.type;
      if (now.byTarget) {
        now = { ...now, byTarget: { T1: valueFor(now.type, lot) } };
        changed.defaultByTarget = now.byTarget;
      }
      if (now.byProcessor) {
        now = { ...now, byProcessor: { P: now.type.number.max } };
        changed.maxByProcessor = now.byProcessor;
      }
    }
    now = { ...now, default: valueFor(now.type, lot) };
    changed.default = now.default;
  }
  if (Object.keys(changed).length > 1) out.change.push(changed);
  live.push(now);
}

/** Pairs that become one: of one scope; of one kind and unit, or made so. */
function mergeSome(live: Live[], no: number, lot: Lot, out: { rules: Any[]; add: Any[] }): Live[] {
  if (!lot.chance(60)) return live;
  const numbers = lot.shuffled(live.filter(({ type }) => type.number));
  const [a] = numbers;
  const fits = numbers.filter((b) => b !== a && b.scope === a?.scope);
  if (!a || fits.length === 0) return live;
  const keys = [a, ...fits.slice(0, lot.chance(30) ? 2 : 1)];
  const to = lot.chance(20) ? a.key : `merged.${no}`;
  out.rules.push({
    rule: "merge",
    keys: lot.shuffled(keys.map(({ key }) => key)),
    to,
    take: lot.one(["first", "largest", "smallest"]),
    why: `One in ${no}.`,
  });
  const type = { number: { min: -1000, max: lot.one([1000, 60]), step: lot.one([1, 0.1]), unit: a.type.number.unit } };
  for (const each of keys)
    if (each.type.number.unit !== a.type.number.unit || (each !== a && lot.chance(25)))
      out.rules.push({ rule: "rescale", key: each.key, ...lot.one(SCALES), why: `One unit in ${no}.` });
  let scope = a.scope;
  if (lot.chance(20)) {
    scope = lot.one(["system", "tune", "feel"]);
    if (scope !== a.scope)
      for (const { key } of keys) out.rules.push({ rule: "move", key, to: scope, why: `Elsewhere in ${no}.` });
  }
  const made = { key: to, scope, type, default: valueFor({ number: { ...type.number, min: 0, max: 50 } }, lot) };
  out.add.push(written(made));
  return [...live.filter((each) => !keys.includes(each)), { ...made, fresh: true } as Live];
}

export interface DrawnLineage {
  readonly documents: readonly Any[];
  /** For the first release and for the last: what is written in a read-out. */
  readonly sources: readonly [DrawnSource, DrawnSource];
}

export interface DrawnSource {
  readonly values: Record<string, Any>;
  readonly rows: { table: string; key: string; cells: Any }[];
  readonly begun: string[];
  readonly active: Record<string, number>;
}

const COUNTS: Readonly<Record<string, number>> = { tune: 3, feel: 2 };

function drawnSource(live: readonly Live[], table: LiveTable, lot: Lot): DrawnSource {
  const values: Record<string, Any> = {};
  for (const { key, scope, type, default: fallback } of live) {
    const scopes =
      scope === "system" ? ["system"] : Array.from({ length: COUNTS[scope] ?? 0 }, (_, i) => `${scope} ${i + 1}`);
    for (const each of scopes)
      if (lot.chance(55)) values[`${each}/${key}`] = lot.chance(15) ? fallback : valueFor(type, lot);
  }
  const begun = lot.chance(60) ? ["ports"] : [];
  const keys = lot.shuffled(["1", "2", "3", "4", "5", "6"]).slice(0, lot.below(5));
  const own = (key: string) => table.rows.find((row) => row.key === key);
  const rows =
    begun.length === 0
      ? []
      : keys.map((key) => ({
          table: "ports",
          ...((lot.chance(40) ? own(key) : undefined) ?? drawnRow(key, table, lot)),
        }));
  return { values, rows, begun, active: { tune: 1 + lot.below(3), feel: 1 + lot.below(2) } };
}

function lineage(numbers: readonly number[], releases: number, restricts: boolean): DrawnLineage {
  const lot = new Lot(numbers);
  let live: Live[] = Array.from({ length: 10 }, (_, i) => {
    const type = typeFor(lot);
    const scope = lot.one(["system", "system", "tune", "feel"]);
    const one: Live = { key: `s${i}`, scope, type, default: valueFor(type, lot) };
    if (lot.chance(20)) one.byTarget = { T1: valueFor(type, lot) };
    if (type.number && !one.byTarget && lot.chance(15)) {
      one.byProcessor = { P: type.number.max };
    }
    return one;
  });
  const first = live;
  let table: LiveTable = {
    use: "use",
    size: "size",
    words: ["idle", "ear", "eye"],
    number: { min: 0, max: 100, step: 1 },
    rows: [],
  };
  table = { ...table, rows: ["1", "2", "5"].filter(() => lot.chance(70)).map((key) => drawnRow(key, table, lot)) };
  const firstTable = table;
  const documents: Any[] = [
    {
      ...head(1),
      idiom: "statement",
      loaderWord: true,
      console: { inputBufferBytes: 64, lineCostUs: 100, baud: 115200 },
      profiles: Object.entries(COUNTS).map(([kind, count]) => ({ kind, title: kind, count })),
      targets: [{ id: "T1", processor: "P", gyro: "G", ports: [1, 2, 3, 4, 5, 6], pads: {} }],
      tables: [tableDocument(table)],
      settings: live.map(written),
    },
  ];
  for (let no = 2; no <= releases; no++) {
    const out = { rules: [] as Any[], change: [] as Any[], add: [] as Any[] };
    const kept = mergeSome(live, no, lot, out);
    const next: Live[] = [];
    for (const one of kept) {
      if ((one as Any).fresh) next.push({ ...one, fresh: undefined } as Live);
      else passSetting(one, no, lot, out, next);
    }
    if (lot.chance(40)) {
      const type = typeFor(lot);
      const fresh = { key: `fresh.${no}`, scope: lot.one(["system", "tune"]), type, default: valueFor(type, lot) };
      out.add.push(written(fresh));
      next.push(fresh);
    }
    const passed = passTable(table, no, lot, restricts);
    table = passed.table;
    live = next.map(
      (one) => Object.fromEntries(Object.entries(one).filter(([, v]) => v !== undefined)) as unknown as Live,
    );
    documents.push({
      ...head(no),
      inherits: `Drawn-${no - 1}`,
      rules: lot.shuffled([...out.rules, ...passed.rules]),
      ...(out.change.length > 0 ? { change: out.change } : {}),
      ...(out.add.length > 0 ? { add: out.add } : {}),
      ...passed.more,
    });
  }
  return { documents, sources: [drawnSource(first, firstTable, lot), drawnSource(live, table, lot)] };
}

/** Lineages of three to six releases; restrictions only where asked for, because they hold in one direction. */
export const drawnLineages = fc
  .record({
    numbers: fc.array(fc.integer({ min: 0, max: 0x7fffffff }), { minLength: 40, maxLength: 40 }),
    releases: fc.integer({ min: 3, max: 6 }),
    restricts: fc.boolean(),
  })
  .map(({ numbers, releases, restricts }) => lineage(numbers, releases, restricts));
