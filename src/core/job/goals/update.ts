import { YES } from "@/core/job/fact";
import type { GoalKind } from "@/core/job/goals/goal";

/** The board runs this release, set up as it was. */
export interface Update {
  readonly kind: "update";
  readonly releaseId: string;
}

export const update: GoalKind<Update> = {
  kind: "update",
  given: () => ({}),
  wanted: ({ releaseId }) => ({ "main: runs": releaseId, "job: signed off": YES }),
};
