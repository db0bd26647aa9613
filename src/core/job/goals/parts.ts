import { YES } from "@/core/job/fact";
import {
  BACK_IN_SERVICE,
  partsProved,
  readParts,
  running,
  writtenParts,
  type GoalKind,
  type Releases,
} from "@/core/job/goals/goal";
import type { FittedPart, PartName } from "@/core/part";

/** What is written to the board in between, by release and target: where none builds its own, the nearest one that has its gyro. */
export interface Detour {
  readonly releaseId: string;
  readonly title: string;
  readonly target: string;
}

/** The backup that a part is set up as, where it is not what it holds itself: of this aircraft's part at that place, or of another. */
export interface PartSource {
  readonly backupId: number;
  readonly whose: "this-aircraft" | "another";
}

/**
 * The parts behind the board are read out together; those that `runs` names run that release at the end, set up as they were.
 * `detour`: because its own firmware opens no line to them, another is written to the board in between; at the end it runs its
 * own again, set up as it was.
 */
export interface PartsGoal {
  readonly kind: "parts";
  readonly runs: Releases;
  readonly fitted: readonly FittedPart[];
  readonly detour?: Detour;
  /** Of those that are written: what they are set up as, where it is not what they hold. */
  readonly sources?: Readonly<Record<PartName, PartSource>>;
}

export const parts: GoalKind<PartsGoal> = {
  kind: "parts",
  given: ({ runs, detour }) =>
    detour === undefined ? {} : { ...running({ main: runs.main }), "main: calibrated": YES },
  carries: ({ runs, detour }) => [...(detour === undefined ? [] : (["main"] as const)), ...writtenParts(runs)],
  wanted: (goal) => ({
    ...readParts(goal.fitted),
    ...partsProved(goal.runs),
    ...(goal.detour === undefined ? {} : { ...running({ main: goal.runs.main }), ...BACK_IN_SERVICE }),
    // somebody answers for what was written; what was only read changed nothing
    ...(writtenParts(goal.runs).length > 0 ? { "visit: signed off": YES } : {}),
  }),
};
