import type { Scope, Whose } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import { BACK_IN_SERVICE, running, type GoalKind, type Instead, type Releases } from "@/core/job/goals/goal";

/** A board that does not start runs this release again, set up as in this backup of its aircraft, or else as its settings region holds. */
export interface Revive {
  readonly kind: "revive";
  readonly runs: Releases;
  readonly backupId?: number;
  readonly instead?: Instead;
  /** Whose board the backup was taken of: the aircraft's board may be another now. */
  readonly whose?: Whose;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
}

export const revive: GoalKind<Revive> = {
  kind: "revive",
  given: ({ backupId, whose = "this-board" }) => ({
    ...(backupId === undefined ? { "main: speaks": "not" } : { "main: settings chosen": YES }),
    ...(whose === "this-board" ? { "main: calibrated": YES } : {}),
  }),
  wanted: ({ runs }) => ({ ...running(runs), ...BACK_IN_SERVICE }),
};
