import type { Scope } from "@/core/carryover";
import { YES } from "@/core/job/fact";
import type { GoalKind } from "@/core/job/goals/goal";

/** The board stays on the release that it runs, set up as in this backup of its aircraft. */
export interface SetUp {
  readonly kind: "set-up";
  readonly releaseId: string;
  readonly backupId: number;
  /** The part of the settings that comes along. */
  readonly scope?: Scope;
}

export const setUp: GoalKind<SetUp> = {
  kind: "set-up",
  given: ({ releaseId }) => ({ "main: runs": releaseId, "settings: chosen": YES }),
  wanted: () => ({ "settings: kept": YES, "job: signed off": YES }),
};
