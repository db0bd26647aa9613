import type { MapRun } from "@/core/loader";

/** Outcome shapes that a bay's tile can wear; each has its own mark beside its words. */
export type Mark = "ok" | "half" | "look" | "no" | "call" | "unknown" | "none";

/** How far a long step is, for bar and words. Times in ms of the board's clock. */
export interface Progress {
  /** What is being done; absent when a step has only begun. */
  readonly say?: string;
  readonly doneShare?: number;
  readonly leftMs?: number;
  /** The board's flash as it is compared and written. */
  readonly map?: readonly MapRun[];
  readonly ask?: {
    readonly say: string;
    readonly expected: string;
    readonly seen: string;
    readonly wrong: boolean;
    readonly notProvable: boolean;
  };
}

export interface JobLive extends Progress {
  readonly say: string;
  readonly id: number;
  readonly step: string;
}

/** What a bay shows at this moment. It is replaced all the time and never part of the record. */
export interface BayLive {
  readonly simBoardId?: number;
  readonly simLabel?: string;
  readonly cable?: boolean;
  readonly battery?: boolean;
  /** Of aircraft that carry two. */
  readonly secondBattery?: boolean;
  readonly faults?: Readonly<Record<string, boolean | number>>;
  readonly senses?: {
    readonly roll: number;
    readonly pitch: number;
    readonly heading: number;
    readonly sticks: readonly number[];
  };
  readonly hands?: { readonly bootButton: boolean; readonly bootPads: boolean; readonly serial?: boolean };
  /** What a person sees who looks at a simulated board. */
  readonly lamp?: "lit" | "blinks" | "dark";
  /** A serial adapter is wired to it. */
  readonly adapter?: boolean;
  /** The serial port of the machine that this bay is, and how that stands. */
  readonly line?: {
    readonly path: string;
    readonly state: "absent" | "held" | "refused" | "asked" | "silent" | "open";
    /** What the operating system says of it. */
    readonly why?: string;
  };
  readonly presence?: "none" | "console" | "loader";
  /** “a console”, “a USB loader”. */
  readonly seenAs?: string;
  /** As its loader says. */
  readonly processor?: string;
  /** It shows itself anew again and again, without a hand on it. */
  readonly restarts?: boolean;
  readonly port?: string;
  readonly usb?: string;
  readonly chipId?: string;
  /** What a loader says of itself; derived from the chip id, and not always unique. */
  readonly loaderId?: string;
  readonly family?: string;
  readonly release?: string;
  readonly builtOn?: string;
  readonly target?: string;
  readonly boardName?: string;
  /** Whether its firmware found the gyro that it looks for. */
  readonly gyro?: "answers" | "silent";
  readonly looksFor?: string;
  /** A part that its firmware needs and does not hear. */
  readonly silentPart?: string;
  /** The target that its model takes, where its firmware is of another one. */
  readonly ownTarget?: string;
  readonly kept?: string;
  readonly tag?: string;
  readonly aircraftId?: number;
  readonly matchedBy?: string;
  /** The backup that was taken of it in this bay last, without a job. */
  readonly filed?: { readonly id: number; readonly name: string };
  readonly mark: Mark;
  readonly say: string;
  readonly job?: JobLive;
}

export const EMPTY_BAY: BayLive = { mark: "none", say: "Empty" };
