/**
 * A second account of what passage rules do, written from docs/formats/rules.md and the schemas alone: it reads the
 * documents themselves and shares no code with the product. Values are plain JSON, places are `scope/key`.
 */

type Json = string | number | boolean | readonly string[];
type Cells = Record<string, Json>;
interface Type {
  number?: { min: number; max: number; step: number; unit?: string };
  choice?: string[];
  switch?: true;
  flags?: string[];
  text?: number;
}
interface Setting {
  key: string;
  scope: string;
  type: Type;
  default: Json;
  byTarget: Record<string, Json>;
  byProcessor: Record<string, number>;
}
interface Column {
  name: string;
  type: Type;
  default: Json;
}
interface Table {
  name: string;
  keys: Column[];
  columns: Column[];
  rows: { key: string; cells: Cells }[];
}
export interface AccountRelease {
  id: string;
  settings: Map<string, Setting>;
  tables: Map<string, Table>;
  profiles: Record<string, number>;
}
// documents are JSON: the schema has looked at them already
/* eslint-disable @typescript-eslint/no-explicit-any, @typescript-eslint/no-unsafe-assignment, @typescript-eslint/no-unsafe-member-access, @typescript-eslint/no-unsafe-argument, @typescript-eslint/no-unsafe-return, @typescript-eslint/no-unsafe-call */
export type Doc = any;

const EPS = 1e-9;
const tidy = (n: number) => Number(n.toPrecision(12));
const decimals = (step: number) => {
  const text = String(step);
  return text.includes("e-") ? Number(text.split("e-")[1]) : (text.split(".")[1] ?? "").length;
};
/** To the nearest multiple; halves go up. */
const toStep = (n: number, step: number) => Number((Math.floor(tidy(n / step) + 0.5) * step).toFixed(decimals(step)));
const linear = (n: number, { factor, offset = 0 }: { factor: number; offset?: number }) => n * factor + offset;

const same = (a: Json, b: Json, type: Type): boolean =>
  type.number
    ? Math.abs(Number(a) - Number(b)) < type.number.step / 2
    : type.flags
      ? JSON.stringify([...(a as string[])].sort()) === JSON.stringify([...(b as string[])].sort())
      : a === b;

const isA = (value: Json, type: Type) =>
  type.number
    ? typeof value === "number"
    : type.flags
      ? Array.isArray(value)
      : type.switch
        ? typeof value === "boolean"
        : typeof value === "string";

type Held = { value: Json; how: "same" | "rounded" | "limited" } | undefined;

/** What a destination can hold of a value. */
function hold(value: Json, type: Type, most = Infinity): Held {
  if (!isA(value, type)) return undefined;
  if (type.number && typeof value === "number") {
    const { min, step } = type.number;
    const max = Math.min(type.number.max, most);
    const near = toStep(value, step);
    if (near >= min && near <= max)
      return { value: near, how: Math.abs(near - value) <= EPS * Math.max(1, Math.abs(value)) ? "same" : "rounded" };
    let inside = near > max ? Math.floor(tidy(max / step)) : Math.ceil(tidy(min / step));
    inside = Number((inside * step).toFixed(decimals(step)));
    return { value: inside, how: "limited" };
  }
  if (type.choice) return type.choice.includes(value as string) ? { value, how: "same" } : undefined;
  if (type.flags) {
    const kept = (value as string[]).filter((flag) => type.flags?.includes(flag));
    return { value: kept, how: kept.length === (value as string[]).length ? "same" : "limited" };
  }
  return { value, how: "same" };
}

const only = (rules: Doc[], key: string, kinds: string[]): Doc[] =>
  rules.filter(
    (rule) => kinds.includes(rule.rule) && (rule.rule === "merge" ? rule.keys.includes(key) : rule.key === key),
  );

/** The names of a setting after a passage. */
function namesAfter(rules: Doc[], key: string): string[] {
  const [namer] = only(rules, key, ["rename", "split", "merge", "retire"]);
  if (namer?.rule === "rename" || namer?.rule === "merge") return [namer.to];
  if (namer?.rule === "split") return namer.into;
  if (namer?.rule === "retire") return [];
  const byValue = only(rules, key, ["rescale", "map"]).find((rule) => rule.to !== undefined);
  return [byValue?.to ?? key];
}

const forPart = (rule: Doc, name: string) => rule.part === undefined || rule.part === name;

const settingFrom = (s: Doc): Setting => ({
  key: s.key,
  scope: s.scope ?? "system",
  type: s.type,
  default: s.default,
  byTarget: s.defaultByTarget ?? {},
  byProcessor: s.maxByProcessor ?? {},
});
const columnFrom = (c: Doc): Column => ({ name: c.name, type: c.type, default: c.default });

const convert = (value: Json, rule: Doc): Json =>
  rule.rule === "rescale"
    ? typeof value === "number"
      ? tidy(linear(value, rule))
      : value
    : Array.isArray(value)
      ? value.map((flag: string) => rule.words[flag] ?? flag)
      : (rule.words[String(value)] ?? value);

const columnAfter = (rules: Doc[], table: string, name: string): string =>
  rules.find((r) => r.rule === "column" && r.table === table && r.column === name)?.to ?? name;
const keyAfter = (rules: Doc[], table: string, key: string): string =>
  rules.find((r) => r.rule === "renumber" && r.table === table)?.rows[key] ?? key;
function cellAfter(rules: Doc[], table: string, column: string, value: Json, type: Type): Json {
  let now = value;
  for (const rule of rules) {
    if (rule.table !== table) continue;
    if (rule.rule === "cells" && rule.column === column) now = rule.words[String(now)] ?? now;
    if (rule.rule === "ranges" && rule.columns.includes(column) && typeof now === "number")
      now = toStep(linear(now, rule), type.number?.step ?? 1);
  }
  return now;
}

/** The release that a document makes, on top of the one before. */
export function releaseOf(doc: Doc, before?: AccountRelease): AccountRelease {
  const rules: Doc[] = doc.rules ?? [];
  const settings = new Map<string, Setting>();
  for (const old of before?.settings.values() ?? []) {
    const joined = only(rules, old.key, ["split", "merge", "retire"]).length > 0;
    const [name] = joined ? [] : namesAfter(rules, old.key);
    if (name === undefined) continue;
    let now: Setting = { ...old, key: name };
    for (const rule of only(rules, old.key, ["move", "rescale", "map"])) {
      if (rule.rule === "move") now = { ...now, scope: rule.to };
      else
        now = {
          ...now,
          byTarget: Object.fromEntries(Object.entries(now.byTarget).map(([t, v]) => [t, convert(v, rule)])),
          byProcessor:
            rule.rule === "rescale"
              ? Object.fromEntries(Object.entries(now.byProcessor).map(([p, v]) => [p, convert(v, rule) as number]))
              : now.byProcessor,
        };
    }
    const change = (doc.change ?? []).find((c: Doc) => c.key === name);
    settings.set(name, {
      ...now,
      type: change?.type ?? now.type,
      default: change?.default ?? now.default,
      byTarget: change?.defaultByTarget ?? now.byTarget,
      byProcessor: change?.maxByProcessor ?? now.byProcessor,
    });
  }
  for (const added of [...(doc.settings ?? []), ...(doc.add ?? [])]) settings.set(added.key, settingFrom(added));
  const tables = new Map<string, Table>();
  for (const old of before?.tables.values() ?? []) {
    const types = new Map<string, Column>();
    for (const column of old.columns) {
      const name = columnAfter(rules, old.name, column.name);
      const change = (doc.changeColumns ?? []).find((c: Doc) => c.table === old.name && c.column === name);
      const type: Type = change?.type ?? column.type;
      types.set(column.name, {
        name,
        type,
        default: change?.default ?? cellAfter(rules, old.name, column.name, column.default, type),
      });
    }
    const stated = (doc.changeRows ?? []).find((c: Doc) => c.table === old.name)?.rows;
    tables.set(old.name, {
      name: old.name,
      keys: old.keys,
      columns: [...types.values()],
      rows:
        stated?.map((row: Doc) => ({ key: row.key, cells: row.cells ?? {} })) ??
        old.rows.map((row) => ({
          key: keyAfter(rules, old.name, row.key),
          cells: Object.fromEntries(
            Object.entries(row.cells).map(([c, v]) => [
              types.get(c)?.name ?? c,
              cellAfter(rules, old.name, c, v, types.get(c)?.type ?? {}),
            ]),
          ),
        })),
    });
  }
  for (const table of doc.tables ?? [])
    tables.set(table.name, {
      name: table.name,
      keys: table.keys.map(columnFrom),
      columns: table.columns.map(columnFrom),
      rows: table.rows.map((row: Doc) => ({ key: row.key, cells: row.cells ?? {} })),
    });
  const profiles = doc.profiles
    ? Object.fromEntries(doc.profiles.map((p: Doc) => [p.kind, p.count]))
    : (before?.profiles ?? {});
  return { id: doc.id, settings, tables, profiles };
}

const scopesIn = (release: AccountRelease, scope: string): string[] =>
  scope === "system" ? ["system"] : Array.from({ length: release.profiles[scope] ?? 0 }, (_, i) => `${scope} ${i + 1}`);
const defaultIn = (setting: Setting, target: string): Json => setting.byTarget[target] ?? setting.default;

/** A value on its way. */
interface Going {
  origin: string;
  set: boolean;
  scope: string;
  key: string;
  value: Json;
  /** It has no counterpart. */
  lost?: boolean;
  /** Asked: same number, other meaning; `felt` while it is known. */
  means?: { felt?: number };
  /** Of a profile that is not the active one. */
  aside?: boolean;
  from?: string;
}
/** One place: the value that goes there, and those that wait with it. */
interface Place {
  main: Going;
  beside: Going[];
}

/** A number that is rounded and would feel as before through one linear rule. */
const feltThrough = (going: Going, rule: { factor: number; offset?: number }, step: number | undefined): Going =>
  going.means?.felt === undefined || step === undefined
    ? going
    : { ...going, means: { felt: toStep(linear(going.means.felt, rule), step) } };

const reversed = (words: Record<string, string>): Record<string, string> => {
  const all = Object.values(words);
  return Object.fromEntries(
    Object.entries(words).flatMap(([a, b]) => (all.filter((w) => w === b).length === 1 ? [[b, a]] : [])),
  );
};
const undo = ({ factor, offset = 0 }: { factor: number; offset?: number }) => ({
  factor: 1 / factor,
  offset: -offset / factor,
});

function mapped(going: Going, words: Record<string, string>, type: Type | undefined): Going {
  if (Array.isArray(going.value))
    return { ...going, value: (going.value as string[]).map((flag) => words[flag] ?? flag) };
  const word = Object.hasOwn(words, String(going.value)) ? words[String(going.value)] : undefined;
  if (word === undefined) return { ...going, lost: true };
  return { ...going, value: type?.switch ? word === "true" : word };
}

function scaled(going: Going, rule: { factor: number; offset?: number }, type: Type | undefined): Going {
  if (typeof going.value !== "number" || !type?.number) return going;
  const { step } = type.number;
  return feltThrough({ ...going, value: toStep(linear(going.value, rule), step) }, rule, step);
}

function behaves(
  going: Going,
  suggest: { factor: number; offset?: number } | undefined,
  type: Type | undefined,
): Going {
  if (!suggest || typeof going.value !== "number" || !type?.number) return { ...going, means: {} };
  const basis = going.means ? going.means.felt : going.value;
  return {
    ...going,
    means: basis === undefined ? {} : { felt: toStep(linear(basis, suggest), type.number.step) },
  };
}

const into = (going: Going, scope: string, to: AccountRelease, active: Record<string, number>): Going[] => {
  const [kind, no] = going.scope.split(" ");
  const flies = no === undefined || Number(no) === (active[kind ?? ""] ?? 1);
  return scopesIn(to, scope).map((each) => ({ ...going, scope: each, ...(flies ? {} : { aside: true }) }));
};

/** One value through a passage, forwards. */
function forth(going: Going, rules: Doc[], to: AccountRelease, active: Record<string, number>): Going[] {
  const { key } = going;
  return namesAfter(rules, key).flatMap((name) => {
    const type = to.settings.get(name)?.type;
    const own = rules.filter((rule) => rule.key === key && forPart(rule, name));
    const move = own.find(({ rule }) => rule === "move");
    const named = { ...going, key: name, from: key };
    return (move ? into(named, move.to, to, active) : [named]).map((placed) => {
      let now = placed;
      for (const rule of own)
        if (rule.rule === "rescale") now = scaled(now, rule, type);
        else if (rule.rule === "map") now = mapped(now, rule.words, type);
      for (const rule of own) if (rule.rule === "behaviour") now = behaves(now, rule.suggest, type);
      return now;
    });
  });
}

/** One value through a passage, backwards: `to` is the older release, whose names the rules speak. */
function back(going: Going, rules: Doc[], to: AccountRelease, active: Record<string, number>): Going[] {
  const olds = [...to.settings.keys()].filter((old) => namesAfter(rules, old).includes(going.key));
  return olds.flatMap((old) => {
    const setting = to.settings.get(old);
    const own = rules.filter((rule) => rule.key === old && forPart(rule, going.key));
    const move = own.find(({ rule }) => rule === "move");
    const named = { ...going, key: old, from: going.key };
    const scales = own.filter(({ rule }) => rule === "rescale");
    const behaviours = own.filter(({ rule }) => rule === "behaviour");
    return (move ? into(named, setting?.scope ?? "system", to, active) : [named]).map((placed) => {
      let now = placed;
      for (const rule of own) if (rule.rule === "map") now = mapped(now, reversed(rule.words), setting?.type);
      // what would feel as before: the suggestion is undone first, in the later unit, then the unit
      for (const rule of [...scales].reverse()) now = scaled(now, undo(rule), setting?.type);
      for (const rule of [...behaviours].reverse()) {
        if (!rule.suggest || rule.suggest.factor === 0) {
          now = behaves(now, undefined, setting?.type);
          continue;
        }
        let [a, b] = [1, 0];
        for (const scale of scales) [a, b] = [a * scale.factor, b * scale.factor + (scale.offset ?? 0)];
        const { factor, offset = 0 } = rule.suggest;
        // x in the older unit → a·x + b → (… − offset) ÷ factor → (… − b) ÷ a
        now = behaves(now, { factor: 1 / factor, offset: ((b - offset) / factor - b) / a }, setting?.type);
      }
      return now;
    });
  });
}

const differ = (a: Going, b: Going, type: Type) =>
  Boolean(a.lost ?? b.lost) || !isA(a.value, type) || !isA(b.value, type) || !same(a.value, b.value, type);

/** Values that came to one place. */
function meet(all: Going[], rules: Doc[], forwards: boolean, setting: Setting): { place: Place; out: Going[] } {
  const going = all.some(({ aside }) => !aside) ? all.filter(({ aside }) => !aside) : all;
  const rule = forwards
    ? rules.find((r) => r.rule === "merge" && r.to === setting.key && r.keys.includes(going[0]?.from))
    : rules.find((r) => r.rule === "split" && r.key === setting.key);
  const keys: string[] = rule ? (forwards ? rule.keys : rule.into) : [];
  const ordered = rule ? [...going].sort((a, b) => keys.indexOf(a.from ?? "") - keys.indexOf(b.from ?? "")) : going;
  const set = ordered.filter((each) => each.set);
  const among = set.length > 0 ? set : ordered;
  const able = among.some(({ lost }) => !lost) ? among.filter(({ lost }) => !lost) : among;
  const take = rule ? (forwards ? rule.take : "first") : "first";
  let [main] = able;
  if (take !== "first")
    for (const each of able)
      if (main && (take === "largest" ? each.value > main.value : each.value < main.value)) main = each;
  if (!main) throw new Error("nothing came there");
  const beside = all.filter((each) => each !== main && each.set && main && differ(each, main, setting.type));
  return { place: { main, beside }, out: all.filter((each) => each !== main && !beside.includes(each)) };
}

export interface Expected {
  /** Place → what goes there unasked, or what is offered. */
  readonly places: Map<string, { value?: Json; offered?: Json[] }>;
  /** Origins that end, and whether a rule says why or a person is asked. */
  readonly ended: Set<string>;
  /** Table → rows that go there unasked, as `key {cells}`; rows that are asked, by the key they came from. */
  readonly rows: Set<string>;
  readonly askedRows: Map<string, string[]>;
}

export interface AccountSource {
  readonly target: string;
  readonly processor: string;
  readonly values: Record<string, Json>;
  readonly active: Record<string, number>;
  readonly rows: { table: string; key: string; cells: Cells }[];
  readonly begun: string[];
}

interface Step {
  to: AccountRelease;
  rules: Doc[];
  forwards: boolean;
}

/** What becomes of a configuration on a way of passages. */
export function account(source: AccountSource, from: AccountRelease, way: Step[]): Expected {
  const to = way.at(-1)?.to ?? from;
  let places: Place[] = [...from.settings.values()].flatMap((setting) =>
    scopesIn(from, setting.scope).map((scope) => {
      const origin = `${scope}/${setting.key}`;
      const fallback = defaultIn(setting, source.target);
      const value = source.values[origin] ?? fallback;
      return {
        main: { origin, set: !same(value, fallback, setting.type), scope, key: setting.key, value },
        beside: [],
      };
    }),
  );
  const ended = new Set<string>();
  for (const { to: next, rules, forwards } of way) {
    const pass = (going: Going) => (forwards ? forth : back)({ ...going, aside: false }, rules, next, source.active);
    const arrived = new Map<string, { mains: Going[]; beside: Going[] }>();
    const has = ({ key, scope }: Going) => {
      const setting = next.settings.get(key);
      return setting !== undefined && scopesIn(next, setting.scope).includes(scope);
    };
    for (const { main, beside } of places) {
      for (const each of pass(main)) {
        if (!has(each)) continue;
        const id = `${each.scope}/${each.key}`;
        const there = arrived.get(id) ?? { mains: [], beside: [] };
        there.mains.push(each);
        arrived.set(id, there);
        for (const other of beside.flatMap(pass))
          if (`${other.scope}/${other.key}` === id && !there.beside.includes(other)) there.beside.push(other);
      }
    }
    places = [...arrived].map(([, { mains, beside }]) => {
      const setting = next.settings.get(mains[0]?.key ?? "");
      if (!setting) throw new Error("no setting");
      const { place } = meet(mains, rules, forwards, setting);
      return { main: place.main, beside: [...place.beside, ...beside] };
    });
  }
  const alive = new Set(places.flatMap(({ main, beside }) => [main, ...beside]).map(({ origin }) => origin));
  for (const setting of from.settings.values())
    for (const scope of scopesIn(from, setting.scope))
      if (!alive.has(`${scope}/${setting.key}`)) ended.add(`${scope}/${setting.key}`);
  const found = new Map(places.map((place) => [`${place.main.scope}/${place.main.key}`, place]));
  const expected: Expected["places"] = new Map();
  for (const setting of to.settings.values())
    for (const scope of scopesIn(to, setting.scope)) {
      const id = `${scope}/${setting.key}`;
      const place = found.get(id);
      const fallback = defaultIn(setting, source.target);
      expected.set(id, place ? settle(place, setting, fallback, source.processor) : { value: fallback });
    }
  return { places: expected, ended, ...rowsAccount(source, from, way) };
}

function settle({ main, beside: all }: Place, setting: Setting, fallback: Json, processor: string) {
  const most = setting.byProcessor[processor];
  const offers = (each: Going): Json[] => {
    const held = each.lost ? undefined : hold(each.value, setting.type, most);
    const felt = each.means?.felt === undefined ? undefined : hold(each.means.felt, setting.type, most);
    if (!held) return [];
    return felt && !same(felt.value, held.value, setting.type) ? [felt.value, held.value] : [held.value];
  };
  const own = main.lost ? undefined : hold(main.value, setting.type, most);
  const beside = all.filter((each) => !own || JSON.stringify(offers(each)) !== JSON.stringify(offers(main)));
  const wasSet = main.set || (all.length > 0 && beside.length === 0);
  if (beside.length > 0) {
    const offered = [main, ...beside].flatMap(offers);
    const complete = main.set && [main, ...beside].every((each) => offers(each).length > 0);
    return { offered: complete ? offered : [...offered, fallback] };
  }
  if (!own) return { offered: [fallback] };
  const silent = !wasSet && !same(own.value, fallback, setting.type);
  if (silent) return { offered: [...offers(main), fallback] };
  if (main.means || own.how === "limited") return { offered: offers(main) };
  return { value: own.value };
}

interface Limit {
  column: string;
  value: Json;
  on: string[];
}

/** A row through the whole way: its key, whole cells, and whether it can stand there. */
function rowThrough(table: Table, key: string, cells: Cells, way: Step[], from: AccountRelease) {
  const before = from.tables.get(table.name);
  let now = { key, cells: Object.fromEntries(table.columns.map((c) => [c.name, cells[c.name] ?? c.default])) as Cells };
  let older = before;
  for (const { to, rules, forwards } of way) {
    const newer = to.tables.get(table.name);
    if (!newer || !older) throw new Error("no table");
    const next: Cells = {};
    for (const [name, value] of Object.entries(now.cells)) {
      if (forwards) {
        const column = columnAfter(rules, table.name, name);
        const type = newer.columns.find((c) => c.name === column)?.type ?? {};
        next[column] = cellAfter(rules, table.name, name, value, type);
      } else {
        const column = newer.columns.find((c) => columnAfter(rules, table.name, c.name) === name);
        const own = rules.filter((r) => r.table === table.name);
        let cell = value;
        for (const rule of own) {
          if (rule.rule === "cells" && rule.column === column?.name) cell = reversed(rule.words)[String(cell)] ?? cell;
          if (rule.rule === "ranges" && rule.columns.includes(column?.name) && typeof cell === "number")
            cell = toStep(linear(cell, undo(rule)), column?.type.number?.step ?? 1);
        }
        next[column?.name ?? name] = cell;
      }
    }
    const numbering = rules.find((r) => r.rule === "renumber" && r.table === table.name)?.rows ?? {};
    const renumbered = forwards ? numbering[now.key] : reversed(numbering)[now.key];
    now = { key: renumbered ?? now.key, cells: next };
    older = newer;
  }
  return now;
}

function limitsOf(table: string, way: Step[], from: AccountRelease): Limit[] {
  let limits: Limit[] = [];
  let older = from.tables.get(table);
  for (const { to, rules, forwards } of way) {
    const newer = to.tables.get(table);
    if (forwards)
      for (const rule of rules)
        if (rule.rule === "restrict" && rule.table === table)
          limits.push({ column: rule.column, value: rule.value, on: rule.on });
    limits = limits.map(({ column, value, on }) => {
      if (!forwards) throw new Error("the account goes one way only");
      const name = columnAfter(rules, table, column);
      const type = newer?.columns.find((c) => c.name === name)?.type ?? {};
      return {
        column: name,
        value: cellAfter(rules, table, column, value, type),
        on: on.map((key) => keyAfter(rules, table, key)),
      };
    });
    older = newer;
  }
  return older ? limits : [];
}

const rowText = (table: string, key: string, cells: Cells) =>
  `${table} ${key} ${JSON.stringify(Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1)))}`;

function rowsAccount(source: AccountSource, from: AccountRelease, way: Step[]): Pick<Expected, "rows" | "askedRows"> {
  const to = way.at(-1)?.to ?? from;
  const rows = new Set<string>();
  const askedRows = new Map<string, string[]>();
  for (const table of from.tables.values()) {
    const later = to.tables.get(table.name);
    if (!later) continue;
    const written = source.begun.includes(table.name) || source.rows.some((row) => row.table === table.name);
    const own = written ? source.rows.filter((row) => row.table === table.name) : table.rows;
    const whole = (t: Table, cells: Cells) =>
      Object.fromEntries(t.columns.map((c) => [c.name, cells[c.name] ?? c.default])) as Cells;
    const alike = (t: Table, a: Cells, b: Cells) =>
      t.columns.every((c) => same(whole(t, a)[c.name] ?? "", whole(t, b)[c.name] ?? "", c.type));
    const limits = way.every(({ forwards }) => forwards) ? limitsOf(table.name, way, from) : [];
    let standing = true;
    let untouched = own.length === table.rows.length;
    const taken = new Set<string>();
    for (const row of own) {
      const { key, cells } = rowThrough(table, row.key, row.cells, way, from);
      const held = Object.fromEntries(later.columns.map((c) => [c.name, hold(cells[c.name] ?? c.default, c.type)]));
      const original = table.rows.find((each) => each.key === row.key);
      const unset = original !== undefined && alike(table, row.cells, original.cells);
      untouched &&= unset;
      const id = `${table.name} ${row.key}`;
      if (Object.values(held).some((each) => each === undefined)) {
        standing = false;
        askedRows.set(id, ["cannot"]);
        continue;
      }
      const fitted = Object.fromEntries(Object.entries(held).map(([c, each]) => [c, each?.value ?? ""])) as Cells;
      const blocked = limits.some((l) => fitted[l.column] === l.value && !l.on.includes(key));
      if (blocked) {
        standing = false;
        const idle = later.columns.every((c) => same(fitted[c.name] ?? "", c.default, c.type));
        askedRows.set(id, [idle ? "left" : "cannot"]);
        continue;
      }
      taken.add(key);
      const text = rowText(table.name, key, fitted);
      if (Object.values(held).some((each) => each?.how === "limited")) {
        askedRows.set(id, [text]);
        continue;
      }
      const now = later.rows.find((each) => each.key === key);
      if (unset && !(now && alike(later, now.cells, fitted)))
        askedRows.set(id, [text, ...(now ? [rowText(table.name, key, whole(later, now.cells))] : [])]);
      else rows.add(text);
    }
    if (!untouched || !standing) continue;
    const known = new Set([...taken, ...table.rows.map((row) => rowThrough(table, row.key, row.cells, way, from).key)]);
    for (const row of later.rows)
      if (!known.has(row.key)) rows.add(rowText(table.name, row.key, whole(later, row.cells)));
  }
  return { rows, askedRows };
}
