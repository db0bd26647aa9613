/**
 * A second account of what passage rules do, written from docs/formats/rules.md and the schemas alone: it reads the
 * documents themselves and shares no code with the product. Values are plain JSON, places are `scope/key`.
 */

export type Json = string | number | boolean | readonly string[];
export type Cells = Record<string, Json>;
export interface Type {
  number?: { min: number; max: number; step: number; unit?: string };
  choice?: string[];
  switch?: true;
  flags?: string[];
  text?: number;
}
export interface Setting {
  key: string;
  scope: string;
  type: Type;
  default: Json;
  byTarget: Record<string, Json>;
  byProcessor: Record<string, number>;
}
export interface Column {
  name: string;
  type: Type;
  default: Json;
}
export interface Table {
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
/** A rule as it stands in a document; the schema has looked at it already. */
export interface Rule {
  readonly rule: string;
  readonly key: string;
  readonly keys: string[];
  readonly to: string;
  readonly into: string[];
  readonly part?: string;
  readonly factor: number;
  readonly offset?: number;
  readonly words: Record<string, string>;
  readonly suggest?: { readonly factor: number; readonly offset?: number };
  readonly take: string;
  readonly table: string;
  readonly column: string;
  readonly columns: string[];
  readonly rows: Record<string, string>;
  readonly value: Json;
  readonly on: string[];
}
interface SettingDoc {
  readonly key: string;
  readonly scope?: string;
  readonly type: Type;
  readonly default: Json;
  readonly defaultByTarget?: Record<string, Json>;
  readonly maxByProcessor?: Record<string, number>;
}
interface RowDoc {
  readonly key: string;
  readonly cells?: Cells;
}
export interface ReleaseDoc {
  readonly id: string;
  readonly rules?: Rule[];
  readonly change?: (Partial<SettingDoc> & { readonly key: string })[];
  readonly settings?: SettingDoc[];
  readonly add?: SettingDoc[];
  readonly tables?: {
    readonly name: string;
    readonly keys: Column[];
    readonly columns: Column[];
    readonly rows: RowDoc[];
  }[];
  readonly changeColumns?: {
    readonly table: string;
    readonly column: string;
    readonly type?: Type;
    readonly default?: Json;
  }[];
  readonly changeRows?: { readonly table: string; readonly rows: RowDoc[] }[];
  readonly profiles?: { readonly kind: string; readonly count: number }[];
}

const EPS = 1e-9;
const tidy = (n: number) => Number(n.toPrecision(12));
const decimals = (step: number) => {
  const text = String(step);
  return text.includes("e-") ? Number(text.split("e-")[1]) : (text.split(".")[1] ?? "").length;
};
/** To the nearest multiple; halves go up. */
export const toStep = (n: number, step: number) =>
  Number((Math.floor(tidy(n / step) + 0.5) * step).toFixed(decimals(step)));
export const linear = (n: number, { factor, offset = 0 }: { factor: number; offset?: number }) => n * factor + offset;

export const same = (a: Json, b: Json, type: Type): boolean =>
  type.number
    ? Math.abs(Number(a) - Number(b)) < type.number.step / 2
    : type.flags
      ? JSON.stringify([...(a as string[])].sort()) === JSON.stringify([...(b as string[])].sort())
      : a === b;

export const isA = (value: Json, type: Type) =>
  type.number
    ? typeof value === "number"
    : type.flags
      ? Array.isArray(value)
      : type.switch
        ? typeof value === "boolean"
        : typeof value === "string";

type Held = { value: Json; how: "same" | "rounded" | "limited" } | undefined;

/** What a destination can hold of a value. */
export function hold(value: Json, type: Type, most = Infinity): Held {
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

export const only = (rules: Rule[], key: string, kinds: string[]): Rule[] =>
  rules.filter(
    (rule) => kinds.includes(rule.rule) && (rule.rule === "merge" ? rule.keys.includes(key) : rule.key === key),
  );

/** The names of a setting after a passage. */
export function namesAfter(rules: Rule[], key: string): string[] {
  const [namer] = only(rules, key, ["rename", "split", "merge", "retire"]);
  if (namer?.rule === "rename" || namer?.rule === "merge") return [namer.to];
  if (namer?.rule === "split") return namer.into;
  if (namer?.rule === "retire") return [];
  const byValue = only(rules, key, ["rescale", "map"]).find((rule) => Object.hasOwn(rule, "to"));
  return [byValue?.to ?? key];
}

export const forPart = (rule: Rule, name: string) => rule.part === undefined || rule.part === name;

const settingFrom = (s: SettingDoc): Setting => ({
  key: s.key,
  scope: s.scope ?? "system",
  type: s.type,
  default: s.default,
  byTarget: s.defaultByTarget ?? {},
  byProcessor: s.maxByProcessor ?? {},
});
const columnFrom = (c: Column): Column => ({ name: c.name, type: c.type, default: c.default });

const convert = (value: Json, rule: Rule): Json =>
  rule.rule === "rescale"
    ? typeof value === "number"
      ? tidy(linear(value, rule))
      : value
    : Array.isArray(value)
      ? value.map((flag: string) => rule.words[flag] ?? flag)
      : (rule.words[String(value)] ?? value);

export const columnAfter = (rules: Rule[], table: string, name: string): string =>
  rules.find((r) => r.rule === "column" && r.table === table && r.column === name)?.to ?? name;
export const keyAfter = (rules: Rule[], table: string, key: string): string =>
  rules.find((r) => r.rule === "renumber" && r.table === table)?.rows[key] ?? key;
export function cellAfter(rules: Rule[], table: string, column: string, value: Json, type: Type): Json {
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
export function releaseOf(doc: ReleaseDoc, before?: AccountRelease): AccountRelease {
  const rules: Rule[] = doc.rules ?? [];
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
    const change = (doc.change ?? []).find((c) => c.key === name);
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
      const change = (doc.changeColumns ?? []).find((c) => c.table === old.name && c.column === name);
      const type: Type = change?.type ?? column.type;
      types.set(column.name, {
        name,
        type,
        default: change?.default ?? cellAfter(rules, old.name, column.name, column.default, type),
      });
    }
    const stated = (doc.changeRows ?? []).find((c) => c.table === old.name)?.rows;
    tables.set(old.name, {
      name: old.name,
      keys: old.keys,
      columns: [...types.values()],
      rows:
        stated?.map((row) => ({ key: row.key, cells: row.cells ?? {} })) ??
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
      rows: table.rows.map((row) => ({ key: row.key, cells: row.cells ?? {} })),
    });
  const profiles = doc.profiles
    ? Object.fromEntries(doc.profiles.map((p) => [p.kind, p.count]))
    : (before?.profiles ?? {});
  return { id: doc.id, settings, tables, profiles };
}

export const scopesIn = (release: AccountRelease, scope: string): string[] =>
  scope === "system" ? ["system"] : Array.from({ length: release.profiles[scope] ?? 0 }, (_, i) => `${scope} ${i + 1}`);
export const defaultIn = (setting: Setting, target: string): Json => setting.byTarget[target] ?? setting.default;
