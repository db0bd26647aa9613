import { YES } from "@/core/job/fact";
import { partsProved, readParts, writtenParts, type GoalKind, type Releases } from "@/core/job/goals/goal";
import type { FittedPart } from "@/core/part";

/** The parts behind the board are read out together; those that `runs` names run that release at the end, set up as they were. */
export interface PartsGoal {
  readonly kind: "parts";
  readonly runs: Releases;
  readonly fitted: readonly FittedPart[];
}

export const parts: GoalKind<PartsGoal> = {
  kind: "parts",
  given: () => ({}),
  carries: ({ runs }) => writtenParts(runs),
  wanted: (goal) => ({
    ...readParts(goal.fitted),
    ...partsProved(goal.runs),
    // somebody answers for what was written; what was only read changed nothing
    ...(writtenParts(goal.runs).length > 0 ? { "visit: signed off": YES } : {}),
  }),
};
