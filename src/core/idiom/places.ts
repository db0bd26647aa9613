import { indexOf, releaseTitle, type Release, type SettingDefinition, type TableDefinition } from "@/core/catalog";
import { parseValue, type Identity, type Value, type ValueType } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition";
import { profileNumber, type ReadClause } from "@/core/idiom/statement";

/** Settings of a release by what the idiom writes for them: name or number, in any case where it does not matter. */
export interface KeyIndex {
  readonly find: (key: string) => SettingDefinition | undefined;
  readonly write: (setting: SettingDefinition) => string;
}

const indexes = new WeakMap<Release, Map<string, KeyIndex>>();

export function keyIndex(release: Release, idiom: Idiom): KeyIndex {
  const byForm = indexes.get(release) ?? new Map<string, KeyIndex>();
  indexes.set(release, byForm);
  const form = `${idiom.keys ?? "name"} ${idiom.keyWidth ?? 0} ${idiom.text.anyCase ?? false}`;
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
      write: (setting) => numbers.get(setting)?.padStart(idiom.keyWidth ?? 0, "0") ?? setting.key,
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
    const no = profileNumber(number, idiom) ?? 0;
    return no >= 1 && no <= profile.count
      ? { kind: "profile", profile: name, number: no }
      : { kind: "nowhere", reason: "There is no such profile" };
  }
  const table = indexOf(release).tables.get(name);
  if (!table && systemSection === undefined && release.settings.some(({ area }) => area === name))
    return { kind: "system" };
  if (!table) return { kind: "nowhere", reason: `${releaseTitle(release)} has no part of this name` };
  if (number === idiom.recital.freshWord) return { kind: "table", table, key: undefined };
  const words = number.split(" ").filter(Boolean);
  if (words.length !== table.keys.length)
    return { kind: "nowhere", reason: `A row of ${name} has ${table.keys.length} keys` };
  for (const [i, column] of table.keys.entries())
    if (!parseValue(words[i] ?? "", unitless(column.type), idiom.rowSpelling).ok)
      return { kind: "nowhere", reason: `“${number}” is no key of ${name}` };
  return { kind: "table", table, key: words.join(" ") };
}

export function identityOf(clauses: Iterable<ReadClause>, idiom: Idiom): Identity {
  const identity: Record<string, string> = { ...idiom.given };
  for (const { statements } of clauses)
    for (const statement of statements) {
      if (statement.kind !== "fact") continue;
      const field = idiom.factFields.get(statement.name);
      if (field !== undefined) identity[field] = statement.value;
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
    const value = parseValue(text, column.type, idiom.rowSpelling);
    if (!value.ok) return { cells: read, reason: value.problem.message };
    read[name] = value.value;
  }
  return { cells: read };
}
