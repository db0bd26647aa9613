import type { Value } from "@/core/config/value";

/** `system`, or one profile such as `tune 2`. */
export type ScopeId = "system" | `${string} ${number}`;

export interface Address {
  readonly scope: ScopeId;
  readonly key: string;
}

const idsByScope = new Map<string, Map<string, string>>();
let idsKept = 0;
/** More addresses than any workshop's catalogue has; then the memory of them begins anew. */
const MOST_IDS = 200_000;

/**
 * `tune 2/roll.hold-strength`: unique in a configuration, usable as a map key and in a URL. The text is made once for each
 * address, because it is looked up for every value of every read-out.
 */
export function addressId({ scope, key }: Address): string {
  let ids = idsByScope.get(scope);
  if (!ids) idsByScope.set(scope, (ids = new Map<string, string>()));
  let id = ids.get(key);
  if (id === undefined) {
    if (++idsKept > MOST_IDS) {
      idsByScope.clear();
      idsKept = 0;
    }
    id = `${scope}/${key}`;
    ids.set(key, id);
  }
  return id;
}

export const profileScope = (kind: string, number: number): ScopeId => `${kind} ${number}`;

/** `tune 2` → kind and number; undefined for `system`. */
export function profileOf(scope: ScopeId): { kind: string; number: number } | undefined {
  const blank = scope.lastIndexOf(" ");
  return blank < 0 ? undefined : { kind: scope.slice(0, blank), number: Number(scope.slice(blank + 1)) };
}

/** What a read-out says of the board it came from. A fact that the text lacks is absent. */
export interface Identity {
  readonly family?: string;
  readonly release?: string;
  readonly builtOn?: string;
  readonly target?: string;
  readonly board?: string;
  readonly chipId?: string;
  /** `moved` when the text says that it holds only what differs from the defaults. */
  readonly extent?: string;
  /** What became of the settings at the board's last start, in its own words. */
  readonly kept?: string;
}

export interface SettingEntry extends Address {
  readonly value: Value;
  /** As it was written. */
  readonly raw: string;
  /** Source line, from 1. */
  readonly line: number;
}

export interface TableRow {
  readonly table: string;
  /** Values of the key columns, joined by a blank. */
  readonly key: string;
  readonly cells: Readonly<Record<string, Value>>;
  readonly line: number;
}

/** A line that was not understood. It is kept, shown and offered again wherever the configuration goes. */
export interface UnknownLine {
  readonly line: number;
  readonly text: string;
  readonly scope: ScopeId;
  readonly reason: string;
}

/** Why a value cannot be relied on. */
export type DoubtCause =
  /** It stands in the text and cannot be read. */
  | "unread"
  /** It can be read, and damage leaves open where it belongs. */
  | "misplaced"
  /** The read-out says that it holds everything, and does not hold this. */
  | "missing";

/** A place of which a read-out leaves open what it holds: it equals nothing, and is never taken for a default. */
export interface ValueDoubt extends Address {
  readonly cause: DoubtCause;
  readonly reason: string;
  /** As it was written; empty when nothing was. */
  readonly raw: string;
  /** Source line, from 1; 0 when there is none. */
  readonly line: number;
  /** What it would be, if it belongs here. */
  readonly value?: Value;
}

/** The same for a row; without a key the table may hold rows that were not read. */
export interface RowDoubt {
  readonly table: string;
  readonly key?: string;
  readonly cause: DoubtCause;
  readonly reason: string;
  readonly raw: string;
  readonly line: number;
}

/** What a read-out leaves open. Values, rows and active profiles outside of it are certain, or absent and so defaults. */
export interface Doubts {
  readonly values: readonly ValueDoubt[];
  readonly rows: readonly RowDoubt[];
  /** Kinds of which it is not known which profile is active. */
  readonly active: readonly string[];
}

export interface Configuration {
  readonly identity: Identity;
  readonly settings: readonly SettingEntry[];
  readonly rows: readonly TableRow[];
  /** Tables that were written, if only as empty; where it is given, others hold their defaults. */
  readonly begun?: readonly string[];
  /** Number of the active profile, by kind. */
  readonly active: Readonly<Record<string, number>>;
  readonly unknown: readonly UnknownLine[];
  /** Absent: everything is certain. */
  readonly doubts?: Doubts;
}

const CERTAIN: Doubts = { values: [], rows: [], active: [] };
export const doubtsOf = (configuration: Pick<Configuration, "doubts">): Doubts => configuration.doubts ?? CERTAIN;

export const rowId = (row: Pick<TableRow, "table" | "key">): string => `${row.table}/${row.key}`;

/** Settings by address; where a text gives one twice, the last counts, as it would on the board. */
export function settingsByAddress(configuration: Configuration): Map<string, SettingEntry> {
  return new Map(configuration.settings.map((entry) => [addressId(entry), entry]));
}

export function rowsById(configuration: Configuration): Map<string, TableRow> {
  return new Map(configuration.rows.map((row) => [rowId(row), row]));
}
