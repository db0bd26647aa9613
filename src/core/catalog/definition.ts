import type { Area, Value, ValueType } from "@/core/config";

/** Who a value belongs to: the type of aircraft, one board (calibration), or one airframe. */
export type Belonging = "type" | "board" | "airframe";

/** A meaning that families share: value × factor + offset is in the concept's unit; words say what choices mean. */
export interface Concept {
  readonly id: string;
  readonly factor?: number;
  readonly offset?: number;
  readonly words?: Readonly<Record<string, string>>;
}

/**
 * The console takes something only while a setting of the system stands so; with `sinceStart`, only where that stood so when
 * the board started last.
 */
export interface Wants {
  readonly key: string;
  readonly is: Value;
  readonly sinceStart?: boolean;
}

export interface SettingDefinition {
  readonly key: string;
  readonly title: string;
  readonly area: Area;
  /** `system`, or the kind of profile that it is kept in. */
  readonly scope: string;
  readonly type: ValueType;
  readonly default: Value;
  readonly defaultByTarget?: Readonly<Record<string, Value>>;
  /** Upper limit by processor, where it is lower than the type's. */
  readonly maxByProcessor?: Readonly<Record<string, number>>;
  /** What it does to the aircraft, in a sentence. */
  readonly says: string;
  /** Changes how it flies. */
  readonly flies: boolean;
  readonly belongsTo: Belonging;
  /** State that the firmware keeps for itself; never carried. */
  readonly housekeeping: boolean;
  /** Learnt from a read-out: type, range and area are guesses. */
  readonly guessed?: boolean;
  /** Another part on the board does it already: on boards that carry the part it stands at this value. */
  readonly doneBy?: { readonly part: string; readonly value: Value; readonly why: string };
  /** Number that an idiom may write instead of the key. */
  readonly no?: number;
  /** What it means whatever the family. */
  readonly concept?: Concept;
  /** Can limit flight when it is new and stands at its default: the sentence says how. */
  readonly restricts?: string;
  readonly wants?: Wants;
}

export interface ColumnDefinition {
  readonly name: string;
  readonly title: string;
  readonly type: ValueType;
  readonly default: Value;
  /** What it means whatever the family; absent: what its name says. */
  readonly concept?: Concept;
}

export interface TableDefinition {
  readonly name: string;
  /** What it means whatever the family; absent: what its name says. */
  readonly concept?: string;
  readonly title: string;
  readonly area: Area;
  readonly keys: readonly ColumnDefinition[];
  readonly columns: readonly ColumnDefinition[];
  readonly belongsTo: Belonging;
  /** Rows on a freshly erased board: key values joined by a blank → cells. */
  readonly rows: readonly { readonly key: string; readonly cells: Readonly<Record<string, Value>> }[];
  readonly maxRows: number;
  /** What does not work where no row has this cell: sentences for whoever leaves one off. */
  readonly without?: readonly { readonly column: string; readonly value: Value; readonly says: string }[];
  readonly wants?: Wants;
}

const FLYING: ReadonlySet<Area> = new Set<Area>(["outputs", "mixer", "switches"]);

/** Whether other rows in a table change how it flies. */
export const rowsFly = ({ area }: Pick<TableDefinition, "area">): boolean => FLYING.has(area);

export interface ProfileKind {
  readonly kind: string;
  readonly title: string;
  readonly count: number;
}

/** Key columns, then the others. */
export const columnsOf = (table: TableDefinition): ColumnDefinition[] => [...table.keys, ...table.columns];

/** The default of a setting on a target. */
export const defaultOf = (setting: SettingDefinition, target: string | undefined): Value =>
  (target === undefined ? undefined : setting.defaultByTarget?.[target]) ?? setting.default;

/** The type of a setting on a processor: its own limits, narrowed by what the processor can do. */
export function typeOn(setting: SettingDefinition, processor: string | undefined): SettingDefinition["type"] {
  const max = processor === undefined ? undefined : setting.maxByProcessor?.[processor];
  return setting.type.kind === "number" && max !== undefined
    ? { ...setting.type, max: Math.min(setting.type.max, max) }
    : setting.type;
}

/** Every scope of a release that holds settings of this definition. */
export function scopesOf(
  release: { readonly profiles: readonly ProfileKind[] },
  setting: Pick<SettingDefinition, "scope">,
): ("system" | `${string} ${number}`)[] {
  if (setting.scope === "system") return ["system"];
  const profile = release.profiles.find((p) => p.kind === setting.scope);
  return Array.from({ length: profile?.count ?? 0 }, (_, i) => `${setting.scope} ${i + 1}` as const);
}
