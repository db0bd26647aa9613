import type { ProfileKind, SettingDefinition, TableDefinition } from "@/core/catalog/definition";
import type { PassageRule } from "@/core/catalog/rules";
import type { Area, AreaGroup, ScopeId, Value } from "@/core/config";

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
      /** The board's pads by what they are used for, as the release's pins say it. */
      readonly kind: "pads";
      readonly title: string;
    };

/** What says how a board's pads are used. What is wired to which pad is said by each target. */
export interface PinMap {
  /** Table whose key is a pad, and the column that says what it drives. */
  readonly outputs: { readonly table: string; readonly use: string };
  /** Table whose key is a port's number, and the column that says what it serves. */
  readonly ports: {
    readonly table: string;
    readonly use: string;
    /** The word of that column for the receiver. */
    readonly receiver?: string;
  };
  /** Concept of the setting that says how the board is turned in the airframe, in degrees. */
  readonly mounted?: string;
  /** Words of those columns that mean: unused. */
  readonly nothing: readonly string[];
  /** Pads that a whole table needs: used as soon as it has a row. */
  readonly tables?: Readonly<Record<string, string>>;
}

/** The way from one release to another, as rules. */
export interface Passage {
  readonly from: string;
  readonly rules: readonly PassageRule[];
}

/**
 * A line that a console opens to one of the other parts, by its number; from then on it passes bytes, until after so long
 * without any one of these words comes.
 */
export interface LineWay {
  readonly part: string;
  /** Words with `{no}`, the number of the part. */
  readonly opens: string;
  /** Leads the open line on to another one; absent: it has to be closed for that. */
  readonly turns?: string;
  readonly closes: string;
  readonly quietMs: number;
  /** Parts that have their supply while it opens or closes are not let go of: the console refuses. */
  readonly unfed: boolean;
}

/** What another part must run for the release to drive it. */
export interface Requirement {
  readonly part: string;
  readonly family: string;
  readonly least: number;
  readonly most?: number;
  readonly why?: string;
}

/** Something that an aircraft can do once all of this is so: each need with its reason. */
export interface Ability {
  readonly id: string;
  readonly title: string;
  readonly says: string;
  /** What other parts must run. */
  readonly parts: readonly Requirement[];
  /** Settings of the system that have to stand at one of these values; the first is set where none does. */
  readonly settings: readonly { readonly key: string; readonly values: readonly Value[]; readonly why: string }[];
  /** A row of a table that names a lever's position: with these words, on a channel that a person chooses. */
  readonly lever?: {
    readonly table: string;
    readonly cells: Readonly<Record<string, Value>>;
    readonly channel: string;
    readonly why: string;
  };
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
  /** Areas of its own, besides those that every workshop has. */
  readonly areas: readonly { readonly name: Area; readonly group: AreaGroup }[];
  /** What other parts must run. */
  readonly requires: readonly Requirement[];
  readonly profiles: readonly ProfileKind[];
  readonly settings: readonly SettingDefinition[];
  readonly tables: readonly TableDefinition[];
  readonly targets: readonly FirmwareTarget[];
  /** The language that its settings are written down in. */
  readonly idiom: string;
  /** Mark that its records carry. */
  readonly edition?: string;
  readonly starters: readonly StarterSet[];
  readonly pictures: readonly Picture[];
  /** What its pads are used for; absent where nothing says so. */
  readonly pins?: PinMap;
  readonly region: { readonly format: string; readonly stale: "refuse" | "rubbish" };
}

/** A release of another part than the main processor: without a console of its own, it is reached through a line. */
export interface PartRelease extends Firmware {
  readonly part: string;
}

/** A release of the main processor's firmware. */
export interface Release extends Firmware {
  readonly targets: readonly ReleaseTarget[];
  readonly console: { readonly inputBufferBytes: number; readonly lineCostUs?: number; readonly baud: number };
  /** Whether its console can restart the board into the USB loader. */
  readonly loaderWord: boolean;
  /** How its console opens lines to other parts; none where it cannot. */
  readonly ways: readonly LineWay[];
  /** What an aircraft can do with it, where the rest is as that wants it. */
  readonly abilities: readonly Ability[];
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
