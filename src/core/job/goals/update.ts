import type { Scope } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import type { FittedPart } from "@/core/part";
import {
  BACK_IN_SERVICE,
  partsProved,
  readParts,
  running,
  type GoalKind,
  type Instead,
  type Releases,
} from "@/core/job/goals/goal";

/** The board runs this release, set up as it was. */
export interface Update {
  readonly kind: "update";
  readonly runs: Releases;
  readonly instead?: Instead;
  /** The firmware on it is of another target than its model takes: that of its model is written. */
  readonly asModel?: true;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
  /** The parts behind the board that come along, each to the release that it shall run. */
  readonly fitted?: readonly FittedPart[];
}

export const update: GoalKind<Update> = {
  kind: "update",
  given: () => ({ "main: calibrated": YES }),
  wanted: ({ runs, fitted = [] }) => ({
    ...running({ main: runs.main }),
    ...partsProved(runs),
    ...readParts(fitted),
    ...BACK_IN_SERVICE,
  }),
};
