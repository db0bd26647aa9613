import type { Advice, AreaDifference, Parts, Scope, Whose } from "@/core/carryover";
import type { Release } from "@/core/catalog";
import type { Nearness } from "@/core/identify";

/** How a release stands to the one that runs now. */
export type Relation = "next" | "later" | "fork" | "older" | "other-family" | "same";

/** What a release has to say about what comes along to it. */
export interface ScopeOffer {
  /** What to let come along, and why. */
  readonly advice: Advice;
  /** Starter sets of the release. */
  readonly starters: readonly { readonly name: string; readonly airframe: string }[];
  /** Kinds of profiles and how many there are. */
  readonly profiles: readonly { readonly kind: string; readonly title: string; readonly count: number }[];
  /** Areas of its own, besides those that every workshop has. */
  readonly areas: Release["areas"];
}

/** A release that a board could be given, with what that would mean for it. */
export interface ReleaseChoice extends ScopeOffer {
  readonly id: string;
  readonly title: string;
  readonly standing: Release["standing"];
  readonly relation: Relation;
  /** Passages on the way to it. */
  readonly hops: number;
  /** “Family 1 → 2 → 3”: the releases that it goes through; absent where it stays on the one that it runs. */
  readonly path?: string;
  /** Changes that nobody would notice; what has to be decided or rewired; what would be lost. */
  readonly silent: number;
  readonly blocked: number;
  readonly lost: number;
  /** Why there is no way back to what runs now; absent when there is one. */
  readonly noWayBack?: string;
  /** An image of it for this target is in the workshop. */
  readonly image: boolean;
  /** It is not built for the board's own target: the nearest one that it is built for, and what that would break. */
  readonly instead?: { readonly target: string; readonly own: string; readonly near: Nearness };
}

/** The release that a board ran before, with the backup that a visit took of it then. */
export interface WayBack {
  readonly backupId: number;
  readonly name: string;
  readonly releaseId: string;
  readonly title: string;
  /** What can be said of it before the board leaves what it runs now; absent where nothing is known to stand otherwise. */
  readonly differs?: number;
}

/** What the board in a bay can be given. */
export interface ReleaseChoices {
  /** What a job would be for: another release for a board that speaks, or a board that shows only its loader brought back. */
  readonly goal: "update" | "revive" | "commission";
  /** What the figures rest on: a backup of this aircraft, or the release's defaults where there is none. */
  readonly basis: string;
  /** Figures and “as it was” rest on a backup, not on defaults. */
  readonly backedUp: boolean;
  readonly choices: readonly ReleaseChoice[];
  /** The firmware on it is of another target than its model takes: that of its model would be written. */
  readonly rights?: { readonly says: string; readonly takes: string };
  /** What the last job on an aircraft of its type let come along. */
  readonly lastScope?: Scope;
  /** Its turn in a campaign that goes on. */
  readonly campaign?: { readonly id: number; readonly title: string; readonly turn: number; readonly waiting: number };
  /** The release that it came from, and the backup of then. */
  readonly wayBack?: WayBack;
  /** Why there is nothing to choose from. */
  readonly lack?: string;
}

/** What a board can be taken back to. */
export interface BaselineChoice {
  /** By which it is ordered: of a standard its backup, of a starter set its name, of the defaults neither. */
  readonly id: string;
  readonly backupId?: number;
  readonly starter?: string;
  readonly title: string;
  /** Places that would be otherwise, area by area, by the newest complete backup; absent where there is none. */
  readonly differences?: readonly AreaDifference[];
  /** What holds it from being chosen. */
  readonly lack?: string;
}

/** A release on which a board can be set up as a backup says, and what that would mean for it. */
export interface SetUpWay extends ScopeOffer {
  readonly releaseId: string;
  readonly title: string;
  /** The board runs it: its firmware is not touched. */
  readonly runs: boolean;
  /** Why it cannot be chosen. */
  readonly lack?: string;
  /** How many things a person has to decide, and how many values that were set by hand would be lost. */
  readonly decisions: number;
  readonly lost: number;
  /** Places that would be otherwise than now, area by area; absent where no backup says how they are now. */
  readonly differences?: readonly AreaDifference[];
  /** Areas that had better come from the backup, because nobody set them on this board. */
  readonly parts: Parts;
}

export interface SetUpChoices {
  readonly aircraftId: number;
  readonly tag: string;
  readonly whose: Whose;
  /** It shows only its loader, and nothing was ever read out of it. */
  readonly commissions: boolean;
  readonly ways: readonly SetUpWay[];
  /** What the backup lacks: it is taken only by a reason. */
  readonly lacks: readonly string[];
}
