import { indexOf, releaseTitle, type Firmware, type SettingDefinition, type TableDefinition } from "@/core/catalog";
import { parseValue, type Identity, type Value, type ValueType } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition/definition";
import { profileNumber, type ReadClause, type Under } from "@/core/idiom/reading/statement";

/** Settings of a release by what the idiom writes for them: name or number, in any case where it does not matter. */
export interface KeyIndex {
  /** `beginning`: what a heading says that the key begins with. */
  readonly find: (key: string, beginning?: string) => SettingDefinition | undefined;
  /** The same for keys that are asked one after the other: texts mostly name them in one order. */
  readonly inTurn: () => KeyIndex["find"];
  readonly write: (setting: SettingDefinition) => string;
}

const indexes = new WeakMap<Firmware, Map<string, KeyIndex>>();

export function keyIndex(release: Firmware, idiom: Idiom): KeyIndex {
  const byForm = indexes.get(release) ?? new Map<string, KeyIndex>();
  indexes.set(release, byForm);
  const form = `${idiom.keys ?? "name"} ${idiom.keyWidth ?? 0} ${idiom.text.anyCase ?? false}`;
  let index = byForm.get(form);
  if (!index) byForm.set(form, (index = makeIndex(release, idiom)));
  return index;
}

/** Whether a key is said in two parts, without joining them. */
const isKey = (whole: string, beginning: string, key: string): boolean =>
  beginning === ""
    ? whole === key
    : whole.length === beginning.length + key.length && whole.startsWith(beginning) && whole.endsWith(key);

/**
 * Finds the setting of each of many keys: first that is held against the key which followed the one before the last time,
 * for that needs no look into an index.
 */
function findsInTurn(settings: readonly SettingDefinition[], find: KeyIndex["find"]): KeyIndex["inTurn"] {
  const places = new Map(settings.map((setting, place) => [setting, place]));
  // by the place before, counted from 1: the place that follows
  const follows = Array.from({ length: settings.length + 1 }, (_, place) => place);
  return () => {
    let before = 0;
    return (key, beginning = "") => {
      const next = follows[before] ?? 0;
      const guess = settings[next];
      if (guess && isKey(guess.key, beginning, key)) {
        before = next + 1;
        return guess;
      }
      const setting = find(key, beginning);
      const place = setting && places.get(setting);
      if (place !== undefined) {
        follows[before] = place;
        before = place + 1;
      }
      return setting;
    };
  };
}

function makeIndex(release: Firmware, idiom: Idiom): KeyIndex {
  if (idiom.keys === "number") {
    const numbers = new Map(release.settings.map((setting, i) => [setting, String(setting.no ?? i + 1)]));
    const settings = new Map([...numbers].map(([setting, no]) => [no, setting]));
    // leading zeros do not make another number
    const find = (key: string) =>
      settings.get(key) ?? (/^\d{1,9}$/.test(key) ? settings.get(String(Number(key))) : undefined);
    return {
      find,
      inTurn: () => find,
      write: (setting) => numbers.get(setting)?.padStart(idiom.keyWidth ?? 0, "0") ?? setting.key,
    };
  }
  const { settings } = indexOf(release);
  const lower = new Map(
    idiom.text.anyCase === true ? release.settings.map((setting) => [setting.key.toLowerCase(), setting]) : [],
  );
  const find = (said: string, beginning = "") => {
    const key = beginning + said;
    return settings.get(key) ?? (lower.size > 0 ? lower.get(key.toLowerCase()) : undefined);
  };
  return { find, inTurn: findsInTurn(release.settings, find), write: (setting) => setting.key };
}

/** The setting that a key means under the headings that it stands under: `joined` when they say how it begins. */
export function settingUnder(
  key: string,
  under: Under | undefined,
  find: KeyIndex["find"],
): { readonly setting: SettingDefinition | undefined; readonly joined: boolean } {
  for (const beginning of under?.beginnings ?? []) {
    const setting = find(key, beginning);
    if (setting) return { setting, joined: true };
  }
  return { setting: find(key), joined: false };
}

const beginnings = new WeakMap<Firmware, Map<string, ReadonlySet<string>>>();

/** Whether keys of a release begin with what a heading says. */
export function beginsKeys(head: string, release: Firmware, { keysUnder, text }: Idiom): boolean {
  if (!keysUnder) return false;
  const { join } = keysUnder;
  const known = beginnings.get(release) ?? new Map<string, ReadonlySet<string>>();
  beginnings.set(release, known);
  const cased = (word: string) => (text.anyCase === true ? word.toLowerCase() : word);
  const form = `${join} ${text.anyCase ?? false}`;
  let heads = known.get(form);
  if (!heads) {
    // any stretch of a key's parts but its last: headings in each other say one part after the other
    heads = new Set(
      release.settings.flatMap(({ key }) => {
        const parts = cased(key).split(join).slice(0, -1);
        return parts.flatMap((_, from) => parts.slice(from).map((__, n) => parts.slice(from, from + n + 1).join(join)));
      }),
    );
    known.set(form, heads);
  }
  return heads.has(cased(head));
}

/** A row's keys as they are written, parted by one blank. */
export const rowKey = (text: string, { rows: { between } }: Idiom): string =>
  text
    .split(between === undefined || between.trim() === "" ? " " : between.trim())
    .map((word) => word.trim())
    .filter((word) => word !== "")
    .join(" ");

/** How a key is said: what its heading says, and the rest of it. */
export function partedKey(key: string, { keysUnder }: Pick<Idiom, "keysUnder">): readonly [head: string, rest: string] {
  if (!keysUnder) return ["", key];
  const parts = key.split(keysUnder.join);
  const taken = Math.min(keysUnder.parts ?? parts.length - 1, parts.length - 1);
  return [parts.slice(0, taken).join(keysUnder.join), parts.slice(taken).join(keysUnder.join)];
}

/** A board's settings while a text is read into them: what is chosen, what comes next goes where. */
export interface Cursor {
  readonly selected: Record<string, number>;
  row: { readonly table: TableDefinition; readonly key: string } | undefined;
  /** Rows that headings stand in which are still open, in languages that close them. */
  readonly open: Cursor["row"][];
}
export const newCursor = (): Cursor => ({ selected: {}, row: undefined, open: [] });

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

export function placeOf(name: string, number: string, idiom: Idiom, release: Firmware): Place {
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
  if (number === idiom.recital.freshWord || (number === "" && idiom.rowsUnder))
    return { kind: "table", table, key: undefined };
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
