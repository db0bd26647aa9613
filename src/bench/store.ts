import type { Plan } from "@/core/carryover";
import type { Catalogue } from "@/core/catalog";
import type { Recital } from "@/core/idiom";
import type { FirmwareImage } from "@/core/image";
import type { Entered, Entry, Goal, PlanOrder, StepSpec } from "@/core/job";
import type { TwinEnd, TwinInput } from "@/core/job/twin";
import type { Result } from "@/core/problem";

export interface JobOrder {
  readonly id: number;
  readonly tag: string;
  readonly aircraftId: number;
  readonly chipId: string;
  readonly goal: Goal;
  /** As it was planned when the job was ordered. */
  readonly steps: readonly StepSpec[];
}

/** A part behind the board, of which something is filed: the read-out of the board that it was taken with. */
export interface FiledPart {
  readonly name: string;
  readonly place: string;
  readonly withId?: number;
}

/** Where a job's record and its papers are kept. What `append` has taken survives any death of the process. */
export interface JobStore {
  entries(): Promise<Entered[]>;
  /** `seen`: how many entries it was judged by, where it holds only as long as no others have come (`checkPlace`). */
  append(entry: Entry, account?: string, seen?: number): Promise<Entered>;
  putJson(value: unknown): Promise<string>;
  getJson(name: string): Promise<unknown>;
  fileBackup(raw: Uint8Array): Promise<{ id: number; recital: Recital }>;
  recitalOf(backupId: number): Promise<Recital>;
  /** The plan for a goal by those documents; undefined while a backup is missing that it cannot do without. */
  plan(order: PlanOrder): Promise<Plan | undefined>;
  fileRescue(raw: Uint8Array, part?: FiledPart): Promise<{ sha256: string }>;
  /** What was rescued, by its hash. */
  rescued(sha256: string): Promise<Uint8Array>;
  /** Files what was read out of a rescued region, as a backup that says so. */
  fileRescued(raw: Uint8Array, part?: FiledPart): Promise<{ id: number; recital: Recital }>;
  /** The documents that the job began with, whatever came in since. */
  catalogue(): Promise<Catalogue>;
  /** The newest image of a release for a target, or the one with that hash. */
  image(releaseId: string, target: string, sha256?: string): Promise<{ image: FirmwareImage; sha256: string }>;
  /** Plays the lines of a plan on a twin of the board, away from this process; what it cannot play is a problem. */
  playTwin(input: TwinInput): Promise<Result<TwinEnd>>;
  /** What has changed since the job was ordered that it does not go by, a sentence each. */
  changedSince(): Promise<string[]>;
  /** What the register says of the board: which model it is of, when it is known. */
  knownModel(): Promise<{ modelId: string; target: string } | undefined>;
  /** What the board says that it runs now, and its chip id, of which perhaps only a part was known. */
  boardRuns(releaseId: string, target: string, chipId: string): Promise<void>;
}
