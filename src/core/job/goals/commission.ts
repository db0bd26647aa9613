import type { Scope, Whose } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import { BACK_IN_SERVICE, running, type GoalKind, type Instead, type Releases } from "@/core/job/goals/goal";

/** A board that was never set up becomes an aircraft of its type: as another one was backed up, or else on the release's defaults. */
export interface Commission {
  readonly kind: "commission";
  readonly runs: Releases;
  /** The type's standard, or another aircraft of the type. */
  readonly backupId?: number;
  readonly instead?: Instead;
  /** Whose board the backup was taken of: the aircraft's board may be another now. */
  readonly whose?: Whose;
  /** Why the backup is taken, although it is not complete. */
  readonly although?: string;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
}

export const commission: GoalKind<Commission> = {
  kind: "commission",
  given: () => ({ "main: settings chosen": YES }),
  wanted: ({ runs }) => ({ ...running(runs), ...BACK_IN_SERVICE }),
  ofAnother: true,
};
