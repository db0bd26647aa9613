import { YES, type Facts } from "@/core/job/fact";
import { readParts, running, type GoalKind, type Releases } from "@/core/job/goals/goal";
import { factsOf } from "@/core/job/fact";
import type { FittedPart } from "@/core/part";
import type { Part } from "@/core/job/subject";

/** The parts behind the board are read out together; those that `runs` names run that release at the end, set up as they were. */
export interface PartsGoal {
  readonly kind: "parts";
  readonly runs: Releases;
  readonly fitted: readonly FittedPart[];
}

const written = ({ runs }: PartsGoal): Part[] => (Object.keys(runs) as Part[]).filter((part) => part !== "main");

export const parts: GoalKind<PartsGoal> = {
  kind: "parts",
  given: () => ({}),
  carries: written,
  wanted: (goal) => ({
    ...readParts(goal.fitted),
    ...writtenFacts(goal),
    // somebody answers for what was written; what was only read changed nothing
    ...(written(goal).length > 0 ? { "visit: signed off": YES } : {}),
  }),
};

const writtenFacts = (goal: PartsGoal): Facts => {
  const { main: _, ...others } = goal.runs;
  return Object.assign(
    running(others),
    ...written(goal).map((part) => factsOf(part, { "settings proved": YES })),
  ) as Facts;
};
