import { YES } from "@/core/job/fact";
import type { GoalKind } from "@/core/job/goals/goal";

/** A board that does not start runs this release again, set up as in this backup of its aircraft. */
export interface Revive {
  readonly kind: "revive";
  readonly releaseId: string;
  readonly backupId: number;
}

export const revive: GoalKind<Revive> = {
  kind: "revive",
  given: () => ({ "settings: chosen": YES }),
  wanted: ({ releaseId }) => ({ "main: runs": releaseId, "job: signed off": YES }),
};
