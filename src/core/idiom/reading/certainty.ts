import { entriesByPlace, indexOf, scopesOf, slotsOf, type Firmware, type SettingDefinition } from "@/core/catalog";
import {
  addressId,
  equalValues,
  profileOf,
  type Doubts,
  type RowDoubt,
  type ScopeId,
  type SettingEntry,
  type TableRow,
  type Value,
  type ValueDoubt,
} from "@/core/config";
import { groupBy } from "@/core/group-by";
import type { Idiom } from "@/core/idiom/definition/definition";
import { partedKey } from "@/core/idiom/reading/places";

/** A value that stands in a text and has no certain place, or cannot be read. */
export interface Loose {
  readonly setting: SettingDefinition;
  /** Where it would land if nothing were wrong. */
  readonly scope: ScopeId;
  readonly placed: boolean;
  readonly value?: Value;
  readonly raw: string;
  readonly line: number;
  readonly reason: string;
}

export interface OpenRow extends TableRow {
  readonly cells: Record<string, Value>;
}

/** What has been read of a text so far, and what of it is certain. */
export interface Reading {
  readonly release: Firmware;
  readonly vouched: boolean;
  readonly movedOnly: boolean;
  /** Line with which the text ends before it is over. */
  readonly torn?: number;
  readonly settings: SettingEntry[];
  readonly loose: Loose[];
  rows: OpenRow[];
  readonly rowDoubts: RowDoubt[];
  readonly begun: Set<string>;
  /** The row that cells belong to, where a heading named one. */
  row: OpenRow | undefined;
  /** The table whose rows stand here. */
  table: string | undefined;
  /** Line after which places are not certain any more; 0: they are. */
  brokenAt: number;
  /** Profile kinds that were chosen since then. */
  readonly sure: Set<string>;
  /** Profile kinds that were chosen after the last value: the active ones. */
  readonly chosenLast: Set<string>;
  readonly highest: Map<string, number>;
  /** The same, without the choice at the end that says which profile is active. */
  readonly reached: Map<string, number>;
  /** Kinds whose profiles do not ascend: from which number on. */
  readonly outOfOrderFrom: Map<string, number>;
  /** Kinds of which a profile has two headings, or more values than profiles: lines of another read-out stand among its own. */
  readonly mixed: Set<string>;
  /** Kinds whose profiles something else follows: no more of them are to come. */
  readonly followed: Set<string>;
  /** Profiles after which a choice is missing: what stands in them may be of the profiles that were left out. */
  readonly skippedAfter: Map<ScopeId, { readonly atLine: number }>;
  /** What the heading says that a key stands under, and the rest of it, where keys are said in two parts. */
  readonly partsOf: ((key: string) => readonly [head: string, rest: string]) | undefined;
  /** Such rests that stood under no heading which makes a key of them. */
  readonly unled: Set<string>;
  /** Rows stand under a line that names their table. */
  readonly rowsUnder: boolean;
}

export const startReading = (
  release: Firmware,
  { vouched, movedOnly, torn }: { readonly vouched: boolean; readonly movedOnly: boolean; readonly torn?: number },
  idiom: Idiom,
): Reading => ({
  release,
  vouched,
  movedOnly,
  ...(torn === undefined ? {} : { torn }),
  settings: [],
  loose: [],
  rows: [],
  rowDoubts: [],
  begun: new Set(),
  row: undefined,
  table: undefined,
  brokenAt: 0,
  sure: new Set(),
  chosenLast: new Set(),
  highest: new Map(),
  reached: new Map(),
  outOfOrderFrom: new Map(),
  mixed: new Set(),
  followed: new Set(),
  skippedAfter: new Map(),
  partsOf: idiom.keysUnder && ((key) => partedKey(key, idiom)),
  unled: new Set(),
  rowsUnder: idiom.rowsUnder,
});

export interface Certain {
  readonly settings: readonly SettingEntry[];
  readonly rows: readonly TableRow[];
  readonly begun: readonly string[];
  readonly doubts: Pick<Doubts, "values" | "rows">;
}

/** Parts what is certain from what is not, when the whole text has been read. */
export function settleCertainty(reading: Reading, target: string | undefined): Certain {
  const { settings, values } = settleValues(reading, target);
  return { settings, ...settleRows(reading, values) };
}

const MISSING = "The read-out does not hold it";

function settleValues(
  reading: Reading,
  target: string | undefined,
): { settings: SettingEntry[]; values: ValueDoubt[] } {
  const { release, settings, loose, vouched, movedOnly, outOfOrderFrom } = reading;
  const odd = new Set<string>(loose.map(({ setting }) => setting.key));
  const present = entriesByPlace({ settings }, release, vouched ? undefined : ({ key }) => odd.add(key));
  for (const kind of vouched ? [] : mixedKinds(reading, odd)) {
    outOfOrderFrom.set(kind, 1);
    // nor does it help that values are alike: any of them may be the other read-out's
    reading.mixed.add(kind);
  }
  if (outOfOrderFrom.size > 0)
    for (const setting of release.settings) if (outOfOrderFrom.has(setting.scope)) odd.add(setting.key);
  const skipped = new Set([...reading.skippedAfter.keys()].map((scope) => profileOf(scope)?.kind ?? ""));
  if (skipped.size > 0) for (const { scope, key } of release.settings) if (skipped.has(scope)) odd.add(key);
  const headless = headsLost(reading, present);
  for (const { setting, scope } of headless.size > 0 ? slotsOf(release) : [])
    if (headless.has(addressId({ scope, key: setting.key }))) odd.add(setting.key);
  const values: ValueDoubt[] = [];
  // most read-outs hold every value
  const open = movedOnly ? target === undefined : present.includes(undefined);
  for (const [i, { setting, scope }] of open ? slotsOf(release).entries() : []) {
    if (present[i] !== undefined || odd.has(setting.key)) continue;
    if (!movedOnly) values.push(missing(scope, setting.key, MISSING));
    else if (setting.defaultByTarget !== undefined)
      values.push(
        missing(scope, setting.key, "Its default depends on the target, and the read-out does not say which"),
      );
  }
  if (odd.size === 0) return { settings, values };
  const byKey = groupBy(
    settings.filter(({ key }) => odd.has(key)),
    ({ key }) => key,
  );
  const looseByKey = groupBy(loose, ({ setting }) => setting.key);
  const kept = settings.filter(({ key }) => !odd.has(key));
  const settleAll = () =>
    [...odd].flatMap((key) => {
      const setting = indexOf(release).settings.get(key);
      return setting ? [settleKey(reading, setting, byKey.get(key) ?? [], looseByKey.get(key) ?? [], headless)] : [];
    });
  let found = settleAll();
  const torn = scattered(found.flatMap(({ settled }) => settled));
  if (torn.size > 0) {
    for (const kind of torn) reading.mixed.add(kind);
    found = settleAll();
  }
  kept.push(...found.flatMap(({ certain }) => certain));
  values.push(...found.flatMap(({ doubts }) => doubts));
  return { settings: kept.toSorted((a, b) => a.line - b.line), values };
}

/**
 * Kinds of profile whose values were given to profiles by their order, and do not stand as profiles do: all of one before
 * all of the next. Where only headings were lost they would.
 */
function scattered(settled: readonly SettingEntry[]): Set<string> {
  const torn = new Set<string>();
  const spans = new Map<ScopeId, { first: number; last: number }>();
  for (const { scope, line } of settled) {
    const { first, last } = spans.get(scope) ?? { first: line, last: line };
    spans.set(scope, { first: Math.min(first, line), last: Math.max(last, line) });
  }
  for (const [a, { last }] of spans)
    for (const [b, { first }] of spans) {
      const [one, next] = [profileOf(a), profileOf(b)];
      if (!one || one.kind !== next?.kind || one.number >= next.number) continue;
      if (last >= first) torn.add(one.kind);
    }
  return torn;
}

/**
 * Values under a heading after which another is missing with all that stands under it: a stretch of the text was lost, and
 * what is left may be of either. Headings follow each other as their settings do in the release.
 */
function headsLost(
  { release, vouched, movedOnly, partsOf, loose }: Reading,
  present: readonly (SettingEntry | undefined)[],
): ReadonlySet<string> {
  const lost = new Set<string>();
  if (!partsOf || vouched || movedOnly || !present.includes(undefined)) return lost;
  const looseIds = new Set(loose.map(({ scope, setting }) => addressId({ scope, key: setting.key })));
  const scopes = new Map<ScopeId, Map<string, { ids: string[]; here: boolean }>>();
  for (const [i, { setting, scope }] of slotsOf(release).entries()) {
    const heads = scopes.get(scope) ?? new Map<string, { ids: string[]; here: boolean }>();
    scopes.set(scope, heads);
    const [head] = partsOf(setting.key);
    const group = heads.get(head) ?? { ids: [], here: false };
    heads.set(head, group);
    const id = addressId({ scope, key: setting.key });
    group.ids.push(id);
    group.here ||= present[i] !== undefined || looseIds.has(id);
  }
  for (const heads of scopes.values()) {
    let before: readonly string[] = [];
    for (const [head, { ids, here }] of heads) {
      if (head === "") continue;
      if (here) before = ids;
      else for (const id of before) lost.add(id);
    }
  }
  return lost;
}

/**
 * Kinds of profile of which a text holds more values than there are profiles: lines of another read-out stand among its
 * own, so no heading is certain to be that of the lines which follow it. A line that was printed twice is no such sign.
 */
function mixedKinds({ release, settings, loose }: Reading, odd: ReadonlySet<string>): Set<string> {
  const kinds = new Set<string>();
  for (const key of odd) {
    const setting = indexOf(release).settings.get(key);
    if (!setting || setting.scope === "system" || kinds.has(setting.scope)) continue;
    const own = settings.filter((entry) => entry.key === key);
    const repeated = own.filter((entry, i) => {
      const before = own[i - 1];
      return before?.scope === entry.scope && before.line === entry.line - 1 && before.raw === entry.raw;
    });
    const held = own.length - repeated.length + loose.filter((each) => each.setting.key === key).length;
    if (held > scopesOf(release, setting).length) kinds.add(setting.scope);
  }
  return kinds;
}

const missing = (scope: ScopeId, key: string, reason: string): ValueDoubt => ({
  scope,
  key,
  cause: "missing",
  reason,
  raw: "",
  line: 0,
});

/** A value that stands somewhere in the text, for a profile that is not certain. */
type Straying = Pick<Loose, "scope" | "raw" | "line" | "reason"> & { readonly value?: Value };

/**
 * What is certain of one setting in all its scopes. Each profile holds it once: two values for one scope are a sign that
 * one of them belongs elsewhere; values that may have changed their places belong where none stands, and if that leaves no
 * choice, they are certain again. What lost its heading is not.
 */
function settleKey(
  { release, movedOnly, outOfOrderFrom, mixed, skippedAfter, vouched, partsOf, unled }: Reading,
  setting: SettingDefinition,
  entries: readonly SettingEntry[],
  loose: readonly Loose[],
  headless: ReadonlySet<string>,
): { certain: SettingEntry[]; doubts: ValueDoubt[]; settled: SettingEntry[] } {
  const { key } = setting;
  const scopes = scopesOf(release, setting);
  const disorder = outOfOrderFrom.get(setting.scope) ?? Infinity;
  const straying: Straying[] = loose.filter(({ placed }) => !placed);
  const certain: SettingEntry[] = [];
  const doubts: ValueDoubt[] = [];
  const open: ScopeId[] = [];
  const strayed = (all: readonly SettingEntry[], reason: string) =>
    straying.push(
      ...all
        // a line that was printed twice is one value
        .filter(({ raw, line }, i) => !(all[i - 1]?.line === line - 1 && all[i - 1]?.raw === raw))
        .map(({ scope, value, raw, line }) => ({ scope, value, raw, line, reason })),
    );
  // a line that could not be read and was that choice: then each profile's value is here, and before the line they are certain
  const whole = entries.length + loose.length === scopes.length;
  const isSkipped = (scope: ScopeId) => {
    const skip = skippedAfter.get(scope);
    return skip !== undefined && !(whole && skip.atLine > 0);
  };
  for (const scope of scopes) {
    const here = entries.filter((entry) => entry.scope === scope);
    const unread = loose.filter((each) => each.placed && each.scope === scope);
    const last = here.at(-1);
    const alike = here.every(({ value }) => equalValues(value, last?.value ?? value, setting.type));
    if ((profileOf(scope)?.number ?? 0) >= disorder) {
      strayed(here, "Profiles do not follow each other: lines may have changed their places");
      open.push(scope);
    } else if (isSkipped(scope)) {
      strayed(here, "The choice of the profile that follows is missing: it may be of that one");
      open.push(scope);
    } else if (headless.has(addressId({ scope, key }))) {
      strayed(here, "The heading that follows is missing: it may be of that one");
      open.push(scope);
    } else if (unread.length > 0 && here.length === 0)
      doubts.push(...unread.slice(0, 1).map((each) => doubtOf(scope, key, each, "unread")));
    else if (last && unread.length === 0 && (alike || vouched)) certain.push(last);
    else if (unread.length > 0) {
      // which of them the board holds is open, whatever the others say
      const all = [...here, ...unread].map(({ line }) => line).toSorted((a, b) => a - b);
      const reason = `It stands in lines ${all.join(" and ")}, and one of them cannot be read`;
      doubts.push(
        ...unread.slice(0, 1).map((each) => doubtOf(scope, key, { ...each, value: undefined, reason }, "unread")),
      );
    } else {
      const lines = [...here, ...unread].map(({ line }) => line);
      if (here.length > 0) strayed(here, `It stands in lines ${lines.join(" and ")} with different values`);
      open.push(scope);
    }
  }
  const [first] = straying;
  if (!first) {
    if (!movedOnly) doubts.push(...open.map((scope) => missing(scope, key, MISSING)));
    return { certain, doubts, settled: [] };
  }
  const { value } = first;
  const isSettled =
    // what lost its heading is in doubt even where all that could stand there are the same
    loose.length === 0 &&
    !movedOnly &&
    // lines of another read-out stand in the text: they may be of any kind
    mixed.size === 0 &&
    // a line of it may stand where nothing makes a key of it
    !(partsOf && unled.has(partsOf(key)[1])) &&
    value !== undefined &&
    straying.length === open.length &&
    straying.every((each) => each.value !== undefined && equalValues(each.value, value, setting.type)) &&
    ascends([...certain, ...straying.map(({ line }, i) => ({ scope: open[i] ?? "system", line }))]);
  const settled: SettingEntry[] = [];
  open.forEach((scope, i) => {
    const own = straying.find((each) => each.scope === scope);
    const stands = own ?? straying[i] ?? first;
    if (isSettled) settled.push({ scope, key, value, raw: stands.raw, line: stands.line });
    else doubts.push(doubtOf(scope, key, own ?? { ...first, scope, value: undefined }, "misplaced"));
  });
  return { certain: [...certain, ...settled], doubts, settled };
}

/** Whether values stand in the order of their profiles. */
const ascends = (placed: readonly { readonly scope: ScopeId; readonly line: number }[]): boolean =>
  placed
    .toSorted((a, b) => (profileOf(a.scope)?.number ?? 0) - (profileOf(b.scope)?.number ?? 0))
    .every(({ line }, i, all) => i === 0 || line > (all[i - 1]?.line ?? 0));

const doubtOf = (
  scope: ScopeId,
  key: string,
  { reason, raw, line, value }: Omit<Straying, "value"> & { readonly value?: Value | undefined },
  cause: ValueDoubt["cause"],
): ValueDoubt => ({ scope, key, cause, reason, raw, line, ...(value === undefined ? {} : { value }) });

function settleRows(reading: Reading, values: readonly ValueDoubt[]): Pick<Certain, "rows" | "begun" | "doubts"> {
  const { release, rows, rowDoubts, begun, movedOnly, vouched } = reading;
  const doubts = [...rowDoubts];
  const tables = indexOf(release).tables;
  const byId = new Map<string, OpenRow>();
  const doubtful = new Set(doubts.flatMap(({ table, key }) => (key === undefined ? [] : [`${table}/${key}`])));
  for (const row of rows) {
    const id = `${row.table}/${row.key}`;
    const table = tables.get(row.table);
    const earlier = byId.get(id);
    byId.set(id, row);
    if (vouched || !table || doubtful.has(id)) continue;
    const doubt = { table: row.table, key: row.key, raw: "", line: row.line };
    const bare = table.columns.find((column) => row.cells[column.name] === undefined);
    if (bare) doubts.push({ ...doubt, cause: "missing", reason: `It does not say ${bare.name}` });
    else if (
      earlier &&
      !table.columns.every(({ name, type }) => {
        const [a, b] = [row.cells[name], earlier.cells[name]];
        return a !== undefined && b !== undefined && equalValues(a, b, type);
      })
    )
      doubts.push({
        ...doubt,
        cause: "misplaced",
        reason: `It stands in lines ${earlier.line} and ${row.line} with different cells`,
      });
    else continue;
    doubtful.add(id);
  }
  if (!movedOnly)
    for (const table of release.tables)
      if (!begun.has(table.name)) {
        begun.add(table.name);
        doubts.push({ table: table.name, cause: "missing", reason: MISSING, raw: "", line: 0 });
      }
  if (reading.rowsUnder && doubts.some(({ key, cause }) => key === undefined && cause === "missing"))
    for (const { table, key, line } of rows) {
      const reason = "The line that begins another table is missing: it may be of that one";
      doubts.push({ table, key, cause: "misplaced", reason, raw: "", line });
      doubtful.add(`${table}/${key}`);
    }
  const certain = doubtful.size === 0 ? rows : rows.filter((row) => !doubtful.has(`${row.table}/${row.key}`));
  return { rows: certain, begun: [...begun], doubts: { values, rows: doubts } };
}
