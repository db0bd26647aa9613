import { indexOf, releaseTitle, type Release, type SettingDefinition, type TableDefinition } from "@/core/catalog";
import {
  parseValue,
  profileScope,
  type Configuration,
  type Identity,
  type ScopeId,
  type SettingEntry,
  type TableRow,
  type UnknownLine,
  type Value,
  type ValueType,
} from "@/core/config";
import type { Idiom } from "@/core/idiom/definition";
import type { ReadClause, Statement } from "@/core/idiom/statement";

/** Settings of a release by what the idiom writes for them: name or number, in any case where it does not matter. */
export interface KeyIndex {
  readonly find: (key: string) => SettingDefinition | undefined;
  readonly write: (setting: SettingDefinition) => string;
}

const indexes = new WeakMap<Release, Map<string, KeyIndex>>();

export function keyIndex(release: Release, idiom: Idiom): KeyIndex {
  const byForm = indexes.get(release) ?? new Map<string, KeyIndex>();
  indexes.set(release, byForm);
  const form = `${idiom.keys ?? "name"} ${idiom.text.anyCase ?? false}`;
  let index = byForm.get(form);
  if (!index) byForm.set(form, (index = makeIndex(release, idiom)));
  return index;
}

function makeIndex(release: Release, idiom: Idiom): KeyIndex {
  if (idiom.keys === "number") {
    const numbers = new Map(release.settings.map((setting, i) => [setting, String(setting.no ?? i + 1)]));
    const settings = new Map([...numbers].map(([setting, no]) => [no, setting]));
    return {
      // leading zeros do not make another number
      find: (key) => settings.get(key) ?? (/^\d{1,9}$/.test(key) ? settings.get(String(Number(key))) : undefined),
      write: (setting) => numbers.get(setting) ?? setting.key,
    };
  }
  const { settings } = indexOf(release);
  if (idiom.text.anyCase !== true) return { find: (key) => settings.get(key), write: (setting) => setting.key };
  const lower = new Map(release.settings.map((setting) => [setting.key.toLowerCase(), setting]));
  return { find: (key) => settings.get(key) ?? lower.get(key.toLowerCase()), write: (setting) => setting.key };
}

/** A board's settings while a text is read into them: what is chosen, what comes next goes where. */
export interface Cursor {
  readonly selected: Record<string, number>;
  row: { readonly table: TableDefinition; readonly key: string } | undefined;
}
export const newCursor = (): Cursor => ({ selected: {}, row: undefined });

/** The place that a heading or record names. */
export type Place =
  | { readonly kind: "profile"; readonly profile: string; readonly number: number }
  | { readonly kind: "table"; readonly table: TableDefinition; readonly key: string | undefined }
  | { readonly kind: "system" }
  | { readonly kind: "nowhere"; readonly reason: string };

/** Keys of rows are written without units. */
const unitless = (type: ValueType): ValueType => {
  if (type.kind !== "number") return type;
  const { min, max, step } = type;
  return { kind: "number", min, max, step };
};

export function placeOf(name: string, number: string, idiom: Idiom, release: Release): Place {
  const { systemSection, factsSection, sensesSection, activeSection } = idiom.recital;
  if ([systemSection, factsSection, sensesSection, activeSection].includes(name)) return { kind: "system" };
  const profile = release.profiles.find((p) => p.kind === name);
  if (profile) {
    const no = /^\d{1,6}$/.test(number) ? Number(number) + 1 - (idiom.countFrom ?? 1) : 0;
    return no >= 1 && no <= profile.count
      ? { kind: "profile", profile: name, number: no }
      : { kind: "nowhere", reason: "There is no such profile" };
  }
  const table = indexOf(release).tables.get(name);
  if (!table) return { kind: "nowhere", reason: `${releaseTitle(release)} has no part of this name` };
  if (number === idiom.recital.freshWord) return { kind: "table", table, key: undefined };
  const words = number.split(" ").filter(Boolean);
  if (words.length !== table.keys.length)
    return { kind: "nowhere", reason: `A row of ${name} has ${table.keys.length} keys` };
  for (const [i, column] of table.keys.entries())
    if (!parseValue(words[i] ?? "", unitless(column.type), idiom.spelling).ok)
      return { kind: "nowhere", reason: `“${number}” is no key of ${name}` };
  return { kind: "table", table, key: words.join(" ") };
}

export function identityOf(clauses: Iterable<ReadClause>, idiom: Idiom): Identity {
  const identity: Record<string, string> = {};
  for (const { statements } of clauses)
    for (const statement of statements) {
      if (statement.kind !== "fact") continue;
      for (const [field, name] of Object.entries(idiom.facts))
        if (name === statement.name) identity[field] = statement.value;
    }
  return identity;
}

/** A row's cells as a statement gives them; a name or value that the table does not know says why. */
export function readCells(
  cells: Readonly<Record<string, string>>,
  table: TableDefinition,
  idiom: Idiom,
): { readonly cells: Record<string, Value>; readonly reason?: string } {
  const read: Record<string, Value> = {};
  for (const [name, text] of Object.entries(cells)) {
    const column = table.columns.find((c) => c.name === name);
    if (!column) return { cells: read, reason: `The table ${table.name} has no column ${name}` };
    const value = parseValue(text, column.type, idiom.spelling);
    if (!value.ok) return { cells: read, reason: value.problem.message };
    read[name] = value.value;
  }
  return { cells: read };
}

interface Building {
  readonly idiom: Idiom;
  readonly release: Release;
  readonly settings: SettingEntry[];
  rows: (Omit<TableRow, "cells"> & { cells: Record<string, Value> })[];
  readonly unknown: UnknownLine[];
  readonly begun: Set<string>;
  readonly active: Record<string, number>;
  readonly cursor: Cursor;
  readonly keys: KeyIndex;
}

/** The configuration that the clauses make on a board of this release, every value with its line. */
export function configurationOf(
  clauses: readonly ReadClause[],
  idiom: Idiom,
  release: Release,
  identity: Identity,
): Configuration {
  const building: Building = {
    idiom,
    release,
    settings: [],
    rows: [],
    unknown: [],
    begun: new Set(),
    active: {},
    cursor: newCursor(),
    keys: keyIndex(release, idiom),
  };
  for (const clause of clauses)
    for (const statement of clause.statements) {
      const reason = take(building, statement, clause.line);
      if (reason !== undefined) building.unknown.push({ line: clause.line, text: clause.text, ...reason });
    }
  const { settings, rows, active, unknown, begun } = building;
  return { identity, settings, rows, begun: [...begun], active, unknown };
}

type Unkept = { readonly reason: string; readonly scope: ScopeId } | undefined;
const lost = (reason: string, scope: ScopeId = "system"): Unkept => ({ reason, scope });

/** Takes one statement up; says why when it could not. */
function take(building: Building, statement: Statement, line: number): Unkept {
  const { release, cursor, idiom } = building;
  switch (statement.kind) {
    case "set":
      return takeValue(building, statement.key, statement.value, line);
    case "row": {
      const table = indexOf(release).tables.get(statement.table);
      if (!table) return lost(`${releaseTitle(release)} has no table of this name`);
      const place = placeOf(statement.table, statement.keys.join(" "), idiom, release);
      if (place.kind !== "table" || place.key === undefined) return lost("The row does not fit the table's columns");
      const { cells, reason } = readCells(statement.cells, table, idiom);
      if (reason !== undefined) return lost("The row does not fit the table's columns");
      building.begun.add(table.name);
      building.rows.push({ table: table.name, key: place.key, cells, line });
      return undefined;
    }
    case "select":
    case "activate": {
      const profile = release.profiles.find((p) => p.kind === statement.profile);
      if (!profile || statement.number < 1 || statement.number > profile.count) return lost("There is no such profile");
      if (statement.kind === "select") cursor.selected[profile.kind] = statement.number;
      if (statement.kind === "activate" || idiom.recital.activeSection === undefined)
        building.active[profile.kind] = statement.number;
      return undefined;
    }
    case "clear":
      building.begun.add(statement.table);
      building.rows = building.rows.filter((row) => row.table !== statement.table);
      return undefined;
    case "section":
      return enterPlace(building, placeOf(statement.name, statement.number, idiom, release), line);
    case "record": {
      if (statement.edition !== undefined && statement.edition !== release.edition)
        return lost(
          `The record is of edition ${statement.edition}; ${releaseTitle(release)} takes ${release.edition ?? "none"}`,
        );
      const refused = enterPlace(building, placeOf(statement.name, statement.number, idiom, release), line);
      if (refused) return refused;
      for (const [key, value] of statement.values) {
        const reason = takeValue(building, key, value, line);
        if (reason) building.unknown.push({ line, text: `${key}: ${value}`, ...reason });
      }
      return undefined;
    }
    case "foreign":
      return lost(statement.reason ?? "The idiom has no statement like this");
    case "fact":
    case "end":
    case "comment":
    case "answer":
    case "echo":
    case "blank":
      return undefined;
  }
}

function enterPlace(building: Building, place: Place, line: number): Unkept {
  const { cursor } = building;
  cursor.row = undefined;
  switch (place.kind) {
    case "nowhere":
      return lost(place.reason);
    case "profile":
      cursor.selected[place.profile] = place.number;
      return undefined;
    case "table":
      building.begun.add(place.table.name);
      if (place.key === undefined) building.rows = building.rows.filter((row) => row.table !== place.table.name);
      else {
        cursor.row = { table: place.table, key: place.key };
        building.rows.push({ table: place.table.name, key: place.key, cells: {}, line });
      }
      return undefined;
    case "system":
      return undefined;
  }
}

function takeValue(building: Building, key: string, text: string, line: number): Unkept {
  const { release, idiom, cursor } = building;
  if (cursor.row) {
    const { cells, reason } = readCells({ [key]: text }, cursor.row.table, idiom);
    if (reason !== undefined) return lost(reason);
    Object.assign(building.rows.at(-1)?.cells ?? {}, cells);
    return undefined;
  }
  const setting = building.keys.find(key);
  if (!setting) return lost(`${releaseTitle(release)} has no setting of this name`);
  const scope: ScopeId =
    setting.scope === "system" ? "system" : profileScope(setting.scope, cursor.selected[setting.scope] ?? 1);
  const value = parseValue(text, setting.type, idiom.spelling);
  if (!value.ok) return lost(value.problem.message, scope);
  building.settings.push({ scope, key: setting.key, value: value.value, raw: text, line });
  return undefined;
}
