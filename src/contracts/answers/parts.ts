import type { FittedPart, PartName } from "@/core/part";

/** A part behind a board as people look at it. Times in ms since 1970. */
export interface PartView {
  readonly name: PartName;
  /** As releases name its kind. */
  readonly kind: string;
  /** What feeds it. */
  readonly supply: FittedPart["supply"];
  /** What one of them is called, and where this one is. */
  readonly title: string;
  readonly place: string;
  /** What it should be, by the register. */
  readonly target: string | null;
  /** How it was read last; absent: never. */
  readonly read?: {
    readonly backupId: number;
    readonly at: number;
    readonly firmware: string;
    readonly releaseId: string;
    readonly target: string;
    readonly verdict: string;
  };
  /** What is not as with its like, a sentence each. */
  readonly odd: readonly string[];
  /** What the firmware on the board wants of it, and whether that is so; absent where it wants nothing. */
  readonly wanted?: { readonly says: string; readonly met: boolean | undefined };
}

/** The parts of an aircraft. */
export interface PartsView {
  /** The one thing to know first. */
  readonly sentence: string;
  readonly parts: readonly PartView[];
  /** The firmware on the board opens no line to these kinds. */
  readonly shut: readonly string[];
}

/** A way round: what is written to the board in between, because its own firmware opens no line to its parts. */
export interface DetourView {
  readonly releaseId: string;
  readonly title: string;
  readonly standing: string;
  /** Kinds of parts that it leads to. */
  readonly leads: readonly string[];
  /** Whose firmware it is, where none is built for this board: what works otherwise meanwhile. */
  readonly instead?: { readonly target: string; readonly pads: readonly string[] };
  /** Of the reading alone. */
  readonly minutes: number;
  readonly hands: number;
}

/** The parts behind the board in a bay, and what they can be given. */
export interface PartChoices extends PartsView {
  /** What leads to the parts that its own firmware does not reach, the nearest first. */
  readonly detours: readonly DetourView[];
  /** Releases by kind of part, the newest first. */
  readonly releases: Readonly<Record<string, readonly { readonly id: string; readonly title: string }[]>>;
  /** Read-outs by kind of part that one of them can be set up as, where it shall not keep what it holds; the newest first. */
  readonly sources: Readonly<Record<string, readonly { readonly backupId: number; readonly title: string }[]>>;
}

/** A part anywhere in the fleet. */
export interface FleetPart {
  readonly tag: string;
  readonly type: string;
  readonly kind: string;
  readonly place: string;
  readonly firmware: string | null;
  readonly releaseId: string | null;
  readonly target: string | null;
  readonly backupId: number | null;
  readonly at: number | null;
  readonly odd: readonly string[];
}
