import type { Scope } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import { BACK_IN_SERVICE, running, type GoalKind, type Instead, type Releases } from "@/core/job/goals/goal";

/** The board runs this release, set up as it was. */
export interface Update {
  readonly kind: "update";
  readonly runs: Releases;
  readonly instead?: Instead;
  /** The firmware on it is of another target than its model takes: that of its model is written. */
  readonly asModel?: true;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
}

export const update: GoalKind<Update> = {
  kind: "update",
  given: () => ({ "main: calibrated": YES }),
  wanted: ({ runs }) => ({ ...running(runs), ...BACK_IN_SERVICE }),
};
