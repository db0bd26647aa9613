import type { Area, ScopeId, Value, ValueType } from "@/core/config";

/** Who a value belongs to: the type of aircraft, one board (calibration), or one airframe. */
export type Belonging = "type" | "board" | "airframe";

/** A meaning that families share: value × factor + offset is in the concept's unit; words say what choices mean. */
export interface Concept {
  readonly id: string;
  readonly factor?: number;
  readonly offset?: number;
  readonly words?: Readonly<Record<string, string>>;
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
  /** Number that an idiom may write instead of the key. */
  readonly no?: number;
  /** What it means whatever the family. */
  readonly concept?: Concept;
  /** Can limit flight when it is new and stands at its default: the sentence says how. */
  readonly restricts?: string;
}

export interface ColumnDefinition {
  readonly name: string;
  readonly title: string;
  readonly type: ValueType;
  readonly default: Value;
}

export interface TableDefinition {
  readonly name: string;
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
}

const FLYING: ReadonlySet<Area> = new Set<Area>(["outputs", "mixer", "switches"]);

/** Whether other rows in a table change how it flies. */
export const rowsFly = ({ area }: Pick<TableDefinition, "area">): boolean => FLYING.has(area);

export interface ProfileKind {
  readonly kind: string;
  readonly title: string;
  readonly count: number;
}

export interface StarterSet {
  readonly name: string;
  readonly airframe: string;
  readonly values: readonly { readonly scope: ScopeId; readonly key: string; readonly value: Value }[];
}

/** What a release is built for. */
export interface FirmwareTarget {
  readonly id: string;
  /** Names it had in earlier releases or is printed under. */
  readonly aliases: readonly string[];
  readonly processor: string;
}

/** A flight controller as a release sees it. */
export interface ReleaseTarget extends FirmwareTarget {
  readonly gyro: string;
  readonly ports: readonly number[];
  /** Pad by pad: what is connected there. */
  readonly pads: Readonly<Record<string, string>>;
}

/** What happens to settings on the way from the release's ancestor to it. */
export type PassageRule =
  | { readonly rule: "rename"; readonly key: string; readonly to: string; readonly why?: string }
  | {
      /** new = old × factor + offset, in the new unit, rounded to the new step. */
      readonly rule: "rescale";
      readonly key: string;
      readonly to?: string;
      readonly factor: number;
      readonly offset?: number;
      readonly why: string;
    }
  | {
      readonly rule: "map";
      readonly key: string;
      readonly to?: string;
      readonly words: Readonly<Record<string, string>>;
      readonly why: string;
    }
  | { readonly rule: "retire"; readonly key: string; readonly why: string }
  | {
      readonly rule: "behaviour";
      readonly key: string;
      readonly why: string;
      /** The value that would feel as before: old × factor + offset. */
      readonly suggest?: { readonly factor: number; readonly offset?: number };
    }
  | { readonly rule: "move"; readonly key: string; readonly to: string; readonly why: string }
  | { readonly rule: "split"; readonly key: string; readonly into: readonly string[]; readonly why: string }
  | {
      readonly rule: "merge";
      readonly keys: readonly string[];
      readonly to: string;
      readonly take: "first" | "largest" | "smallest";
      readonly why: string;
    }
  | {
      readonly rule: "column";
      readonly table: string;
      readonly column: string;
      readonly to: string;
      readonly why: string;
    }
  | {
      /** Rows are known by other keys, one to one. */
      readonly rule: "renumber";
      readonly table: string;
      readonly rows: Readonly<Record<string, string>>;
      readonly why: string;
    }
  | {
      /** Rows with this cell value are possible under these keys only. */
      readonly rule: "restrict";
      readonly table: string;
      readonly column: string;
      readonly value: Value;
      readonly on: readonly string[];
      readonly why: string;
    }
  | {
      /** Positions mean other values: new = old × factor + offset. */
      readonly rule: "ranges";
      readonly table: string;
      readonly columns: readonly string[];
      readonly factor: number;
      readonly offset?: number;
      readonly why: string;
    }
  | {
      readonly rule: "cells";
      readonly table: string;
      readonly column: string;
      readonly words: Readonly<Record<string, string>>;
      readonly why: string;
    };

/** What is looked at rather than read. Settings are named by their concepts, tables by their names. */
export type Picture =
  | {
      /** rate × ((1 − bend) × stick + bend × stick ^ power) */
      readonly kind: "stick-feel";
      readonly title: string;
      readonly rate: string;
      readonly bend: string;
      readonly power: number;
    }
  | {
      /** A low-pass filter; its order by the word of a choice. */
      readonly kind: "smoothing";
      readonly title: string;
      readonly frequency: string;
      readonly order?: string;
      readonly orders?: Readonly<Record<string, number>>;
    }
  | {
      readonly kind: "levers";
      readonly title: string;
      readonly table: string;
      readonly channel: string;
      readonly from: string;
      readonly to: string;
    }
  | {
      readonly kind: "display";
      readonly title: string;
      readonly table: string;
      readonly line: string;
      readonly column: string;
      readonly lines: number;
      readonly columns: number;
    }
  | {
      /** The board's pads by what they are used for. */
      readonly kind: "pads";
      readonly title: string;
      /** Table whose key is a pad, and the column that says what it drives. */
      readonly outputs: { readonly table: string; readonly use: string };
      /** Table whose key is a port's number, and the column that says what it serves. */
      readonly ports: { readonly table: string; readonly use: string };
      /** Words of those columns that mean: unused. */
      readonly nothing: readonly string[];
      /** Pads that a whole table needs: used as soon as it has a row. */
      readonly tables?: Readonly<Record<string, string>>;
    };

/** The way from one release to another, as rules. */
export interface Passage {
  readonly from: string;
  readonly rules: readonly PassageRule[];
}

/** What another part must run for the release to drive it. */
export interface Requirement {
  readonly part: string;
  readonly family: string;
  readonly least: number;
  readonly most?: number;
  readonly why?: string;
}

/** What every release has, whichever part of an aircraft runs it. */
export interface Firmware {
  readonly id: string;
  readonly family: string;
  readonly version: string;
  readonly standing: "stable" | "candidate" | "experimental";
  readonly builtOn: string;
  /** The release that it is written on top of. */
  readonly ancestor?: string;
  /** The layout of its images and settings; absent: the plain one. */
  readonly layout?: string;
  /** The ways that lead to it: from its ancestor first, then from others. */
  readonly passages: readonly Passage[];
  /** What other parts must run. */
  readonly requires: readonly Requirement[];
  readonly profiles: readonly ProfileKind[];
  readonly settings: readonly SettingDefinition[];
  readonly tables: readonly TableDefinition[];
  readonly targets: readonly FirmwareTarget[];
}

/** A release of another part than the main processor. It is reached through the main firmware: no console of its own. */
export interface PartRelease extends Firmware {
  readonly part: string;
}

/** A release of the main processor's firmware. */
export interface Release extends Firmware {
  readonly idiom: string;
  /** Mark that its records carry. */
  readonly edition?: string;
  readonly starters: readonly StarterSet[];
  readonly targets: readonly ReleaseTarget[];
  readonly pictures: readonly Picture[];
  readonly region: { readonly format: string; readonly stale: "refuse" | "rubbish" };
  readonly console: { readonly inputBufferBytes: number; readonly lineCostUs: number; readonly baud: number };
  /** Whether its console can restart the board into the USB loader. */
  readonly loaderWord: boolean;
}

export const releaseTitle = (release: Pick<Firmware, "family" | "version">): string =>
  `${release.family} ${release.version}`;

export const MAIN_PART = "main processor";
/** The part that a loader in flash is, as requirements name it. */
export const LOADER_PART = "loader";

/** The part of an aircraft that runs a release. */
export const partOf = (release: Firmware | PartRelease): string => ("part" in release ? release.part : MAIN_PART);

/** “5 or later”, “5”, “5 to 6”: the versions that a requirement lets through. */
export const versionsOf = ({ least, most }: Pick<Requirement, "least" | "most">): string =>
  most === undefined ? `${least} or later` : most === least ? `${least}` : `${least} to ${most}`;

/** Whether a requirement lets a version through. */
export const lets = ({ least, most }: Pick<Requirement, "least" | "most">, version: number): boolean =>
  version >= least && version <= (most ?? Infinity);

/** Key columns, then the others. */
export const columnsOf = (table: TableDefinition): ColumnDefinition[] => [...table.keys, ...table.columns];
