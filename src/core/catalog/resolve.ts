import { AREAS, limitValue, type Area, type Value, type ValueType } from "@/core/config";
import { ok, refuse, type Problem, type Result } from "@/core/problem";
import { type CatalogueDocument } from "@/core/catalog/documents";
import {
  columnsOf,
  type ColumnDefinition,
  type PassageRule,
  type Release,
  type SettingDefinition,
  type TableDefinition,
} from "@/core/catalog/release";

type TypeDocument = { number: { min: number; max: number; step: number; unit?: string } } & { switch?: true } & {
  choice?: (string | { readonly word: string; readonly also: readonly string[] })[];
} & { flags?: string[] } & { text?: number };
/** A setting as it stands in a document. `for` makes one setting for each of its names. */
interface SettingDocument extends Partial<Omit<SettingDefinition, "type" | "area">> {
  key: string;
  area?: string;
  type?: TypeDocument;
  for?: Record<string, Value>;
}
interface ColumnDocument extends Omit<ColumnDefinition, "type"> {
  type: TypeDocument;
}
interface ReleaseDocument extends Omit<Partial<Release>, "settings" | "tables" | "ancestor"> {
  rules?: PassageRule[];
  id: string;
  family: string;
  version: string;
  standing: Release["standing"];
  builtOn: string;
  region: Release["region"];
  inherits?: string;
  settings?: SettingDocument[];
  tables?: (Omit<TableDefinition, "keys" | "columns" | "belongsTo"> & {
    keys: ColumnDocument[];
    columns: ColumnDocument[];
    belongsTo?: TableDefinition["belongsTo"];
  })[];
  change?: Omit<SettingDocument, "for">[];
  changeRows?: { table: string; rows: { key: string; cells?: Record<string, Value> }[] }[];
  changeColumns?: (Partial<ColumnDocument> & { table: string; column: string })[];
  add?: SettingDocument[];
}

function typeOf(type: Partial<TypeDocument>): ValueType {
  if (type.number) return { kind: "number", ...type.number };
  if (type.choice) {
    const options = type.choice.map((each) => (typeof each === "string" ? each : each.word));
    const also = type.choice.flatMap((each) =>
      typeof each === "string" ? [] : each.also.map((word): [string, string] => [word, each.word]),
    );
    return { kind: "choice", options, ...(also.length === 0 ? {} : { aliases: Object.fromEntries(also) }) };
  }
  if (type.flags) return { kind: "flags", options: type.flags };
  if (type.text) return { kind: "text", maxLength: type.text };
  return { kind: "switch" };
}

const columnOf = (column: ColumnDocument): ColumnDefinition => ({ ...column, type: typeOf(column.type) });

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);

/** One definition, or one for each name under `for`. */
function settingsOf(document: SettingDocument): SettingDefinition[] {
  const { for: variants, ...rest } = document;
  const one = (name: string, value: Value): SettingDefinition => {
    const fill = (text: string) => text.replaceAll("{}", name).replaceAll("{A}", capital(name));
    const { type, restricts, concept, ...plain } = rest;
    return {
      ...plain,
      key: fill(rest.key),
      title: fill(rest.title ?? rest.key),
      says: fill(rest.says ?? ""),
      area: rest.area as Area,
      scope: rest.scope ?? "system",
      type: typeOf(type ?? { switch: true }),
      default: value,
      flies: rest.flies ?? false,
      belongsTo: rest.belongsTo ?? "type",
      housekeeping: rest.housekeeping ?? false,
      ...(restricts === undefined ? {} : { restricts: fill(restricts) }),
      ...(concept === undefined ? {} : { concept: { ...concept, id: fill(concept.id) } }),
    };
  };
  return variants
    ? Object.entries(variants).map(([name, value]) => one(name, value))
    : [one("", rest.default ?? false)];
}

/** A rescaled setting keeps its meaning: its concept's factor follows. The new type stands in the release's changes. */
function rescaled(
  setting: SettingDefinition | undefined,
  rule: Extract<PassageRule, { rule: "rescale" }>,
): Partial<SettingDefinition> {
  const key = rule.to === undefined ? {} : { key: rule.to };
  const concept = setting?.concept;
  if (!concept) return key;
  const factor = (concept.factor ?? 1) / rule.factor;
  const offset = (concept.offset ?? 0) - (rule.offset ?? 0) * factor;
  return { ...key, concept: { ...concept, factor, offset } };
}

function mapped(
  setting: SettingDefinition | undefined,
  rule: Extract<PassageRule, { rule: "map" }>,
): Partial<SettingDefinition> {
  const key = rule.to === undefined ? {} : { key: rule.to };
  const concept = setting?.concept;
  if (!concept) return key;
  const words = Object.fromEntries(
    Object.entries(rule.words).map(([old, word]) => [word, concept.words?.[old] ?? old]),
  );
  return { ...key, concept: { ...concept, words } };
}

/**
 * What the ancestor's settings become under the rules, before the release's own changes are laid over them. Rules name
 * settings as the ancestor does, also when an earlier rule has renamed them.
 */
function passSettings(settings: readonly SettingDefinition[], rules: readonly PassageRule[]): SettingDefinition[] {
  let passed = settings.map((setting) => ({ origin: setting.key, setting }));
  const change = (origin: string, fields: Partial<SettingDefinition>) => {
    passed = passed.map((entry) =>
      entry.origin === origin ? { origin, setting: { ...entry.setting, ...fields } } : entry,
    );
  };
  const drop = (origins: readonly string[]) => {
    passed = passed.filter((entry) => !origins.includes(entry.origin));
  };
  for (const rule of rules) {
    switch (rule.rule) {
      case "rename":
        change(rule.key, { key: rule.to });
        break;
      case "rescale":
        change(rule.key, rescaled(passed.find((entry) => entry.origin === rule.key)?.setting, rule));
        break;
      case "map":
        change(rule.key, mapped(passed.find((entry) => entry.origin === rule.key)?.setting, rule));
        break;
      case "retire":
      case "split":
        drop([rule.key]);
        break;
      case "merge":
        drop(rule.keys);
        break;
      case "move":
        change(rule.key, { scope: rule.to });
        break;
      case "behaviour":
      case "column":
      case "cells":
      case "renumber":
      case "restrict":
      case "ranges":
        break;
    }
  }
  return passed.map((entry) => entry.setting);
}

type StarterValue = Release["starters"][number]["values"][number];

/** A starter set's values under the rules: renamed, converted, moved; what was retired is dropped. */
function passStarter(
  value: StarterValue,
  rules: readonly PassageRule[],
  settings: readonly SettingDefinition[],
): StarterValue[] {
  let passed: StarterValue[] = [value];
  const each = (change: (v: StarterValue) => StarterValue) => {
    passed = passed.map(change);
  };
  for (const rule of rules) {
    if ("keys" in rule ? !rule.keys.includes(value.key) : !("key" in rule) || rule.key !== value.key) continue;
    switch (rule.rule) {
      case "rename":
        each((v) => ({ ...v, key: rule.to }));
        break;
      case "rescale":
        each((v) => ({
          ...v,
          key: rule.to ?? v.key,
          value: typeof v.value === "number" ? v.value * rule.factor + (rule.offset ?? 0) : v.value,
        }));
        break;
      case "map":
        each((v) => ({ ...v, key: rule.to ?? v.key, value: rule.words[String(v.value)] ?? v.value }));
        break;
      case "move":
        each((v) => ({ ...v, scope: rule.to === "system" ? "system" : `${rule.to} 1` }));
        break;
      case "split":
        passed = passed.flatMap((v) => rule.into.map((key) => ({ ...v, key })));
        break;
      case "merge":
        each((v) => ({ ...v, key: rule.to }));
        break;
      case "retire":
        passed = [];
        break;
      default:
        break;
    }
  }
  return passed.flatMap((v) => {
    const setting = settings.find((s) => s.key === v.key);
    const limited = setting && limitValue(v.value, setting.type);
    return limited === undefined ? [] : [{ ...v, value: limited }];
  });
}

function passTables(tables: readonly TableDefinition[], document: ReleaseDocument): TableDefinition[] {
  const renames = (document.rules ?? []).filter((rule) => rule.rule === "column");
  const maps = (document.rules ?? []).filter((rule) => rule.rule === "cells");
  return tables.map((table) => {
    const newName = (column: string) =>
      renames.find((r) => r.table === table.name && r.column === column)?.to ?? column;
    const newCell = (column: string, value: Value): Value => {
      const words = maps.find((m) => m.table === table.name && m.column === column)?.words;
      return typeof value === "string" ? (words?.[value] ?? value) : value;
    };
    const changed = (column: ColumnDefinition): ColumnDefinition => {
      const name = newName(column.name);
      const change = document.changeColumns?.find((c) => c.table === table.name && c.column === name);
      return {
        name,
        title: change?.title ?? column.title,
        type: change?.type ? typeOf(change.type) : column.type,
        default: change?.default ?? newCell(column.name, column.default),
      };
    };
    return {
      ...table,
      keys: table.keys.map(changed),
      columns: table.columns.map(changed),
      rows:
        document.changeRows
          ?.find((change) => change.table === table.name)
          ?.rows.map(({ key, cells = {} }) => ({ key, cells })) ??
        table.rows.map((row) => ({
          key: row.key,
          cells: Object.fromEntries(Object.entries(row.cells).map(([c, value]) => [newName(c), newCell(c, value)])),
        })),
    };
  });
}

function faultOf(release: Release): Problem | undefined {
  const fault = (message: string, path: string, detail: string): Problem => ({
    code: "release-inconsistent",
    message,
    detail,
    where: { path },
  });
  const seen = new Set<string>();
  const scopes = new Set(["system", ...release.profiles.map((profile) => profile.kind)]);
  for (const setting of release.settings) {
    const path = `settings/${setting.key}`;
    if (seen.has(setting.key)) return fault("A setting is defined twice", path, setting.key);
    seen.add(setting.key);
    if (!AREAS.includes(setting.area)) return fault("A setting stands in an unknown area", path, setting.area);
    if (!scopes.has(setting.scope)) return fault("A setting stands in an unknown scope", path, setting.scope);
    for (const value of [setting.default, ...Object.values(setting.defaultByTarget ?? {})]) {
      const limited = limitValue(value, setting.type);
      if (limited === undefined || JSON.stringify(limited) !== JSON.stringify(value))
        return fault("A default is outside its setting's range", path, `${setting.key}: ${JSON.stringify(value)}`);
    }
  }
  for (const [path, { type }] of [
    ...release.settings.map((setting) => [`settings/${setting.key}`, setting] as const),
    ...release.tables.flatMap((table) => columnsOf(table).map((c) => [`tables/${table.name}/${c.name}`, c] as const)),
  ]) {
    const twice = type.kind === "choice" ? type.options.find((word) => type.aliases?.[word] !== undefined) : undefined;
    if (twice !== undefined) return fault("A word stands for itself and for another", path, twice);
  }
  for (const starter of release.starters)
    for (const value of starter.values)
      if (!seen.has(value.key))
        return fault("A starter set names an unknown setting", `starters/${starter.name}`, value.key);
  return undefined;
}

/**
 * The full release of a document: written whole, or its ancestor (already resolved) under its rules, changes and
 * additions. Refuses what the schema cannot see: double keys, unknown areas and scopes, rules about settings that the
 * ancestor lacks, defaults out of range.
 */
export function resolveRelease(checked: CatalogueDocument, ancestor?: Release): Result<Release> {
  const document = checked as unknown as ReleaseDocument;
  if (document.inherits !== undefined && ancestor?.id !== document.inherits)
    return refuse({
      code: "release-ancestor",
      message: `${document.id} descends from a release that the catalogue does not hold`,
      detail: document.inherits,
      hint: "Import the ancestor first",
    });
  const rules = document.rules ?? [];
  const known = new Set(ancestor?.settings.map((setting) => setting.key));
  for (const rule of rules) {
    const keys = "keys" in rule ? rule.keys : "key" in rule ? [rule.key] : [];
    const odd = keys.find((key) => !known.has(key));
    if (odd !== undefined)
      return refuse({
        code: "release-rule",
        message: `A passage rule of ${document.id} speaks of a setting that its ancestor lacks`,
        detail: `${rule.rule}: ${odd}`,
        where: { path: "rules" },
      });
  }
  const inherited = ancestor ? passSettings(ancestor.settings, rules) : [];
  const changes = new Map((document.change ?? []).map((change) => [change.key, change]));
  const odd = [...changes.keys()].find((key) => !inherited.some((setting) => setting.key === key));
  if (odd !== undefined)
    return refuse({
      code: "release-change",
      message: `${document.id} changes a setting that it does not have`,
      detail: odd,
      where: { path: "change" },
    });
  const settings = [
    ...inherited.map((setting): SettingDefinition => {
      const change = changes.get(setting.key);
      if (!change) return setting;
      const { type, area, ...plain } = change;
      return { ...setting, ...plain, ...(area ? { area: area as Area } : {}), ...(type ? { type: typeOf(type) } : {}) };
    }),
    ...[...(document.settings ?? []), ...(document.add ?? [])].flatMap(settingsOf),
  ];
  const tables = [
    ...(ancestor ? passTables(ancestor.tables, document) : []),
    ...(document.tables ?? []).map((table) => ({
      ...table,
      belongsTo: table.belongsTo ?? "type",
      keys: table.keys.map(columnOf),
      columns: table.columns.map(columnOf),
      rows: table.rows.map((row) => ({ key: row.key, cells: (row as { cells?: Record<string, Value> }).cells ?? {} })),
    })),
  ];
  const base = ancestor ?? ({} as Release);
  const release: Release = {
    id: document.id,
    family: document.family,
    version: document.version,
    standing: document.standing,
    builtOn: document.builtOn,
    idiom: document.idiom ?? base.idiom,
    ...(document.inherits === undefined ? {} : { ancestor: document.inherits }),
    passages: [
      ...(document.inherits === undefined ? [] : [{ from: document.inherits, rules }]),
      ...(document.passages ?? []),
    ],
    requires: document.requires ?? ancestor?.requires ?? [],
    ...(document.edition === undefined ? {} : { edition: document.edition }),
    profiles: document.profiles ?? base.profiles,
    settings,
    tables,
    starters:
      document.starters?.map((starter) => ({
        ...starter,
        values: starter.values.map((v) => ({ ...v, scope: (v as { scope?: typeof v.scope }).scope ?? "system" })),
      })) ??
      ancestor?.starters.map((starter) => ({
        ...starter,
        values: starter.values.flatMap((value) => passStarter(value, rules, settings)),
      })) ??
      [],
    targets: (document.targets ?? base.targets).map((t) => ({
      ...t,
      aliases: (t as { aliases?: readonly string[] }).aliases ?? [],
    })),
    pictures: document.pictures ?? ancestor?.pictures ?? [],
    region: document.region,
    console: document.console ?? base.console,
    loaderWord: document.loaderWord ?? base.loaderWord,
  };
  const fault = faultOf(release);
  return fault ? refuse(fault) : ok(release);
}
