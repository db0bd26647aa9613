import { planActions, type Action, type Fact } from "@/core/job/actions";

/** What a job is ordered for. */
export type Goal =
  /** The board runs this release, set up as it was. */
  | { readonly kind: "update"; readonly releaseId: string }
  /** The board stays on the release that it runs, set up as in this backup of its aircraft. */
  | { readonly kind: "set-up"; readonly releaseId: string; readonly backupId: number };

/** What is so before the job begins, by its goal. */
const GIVEN: Readonly<Record<Goal["kind"], readonly Fact[]>> = { update: [], "set-up": ["release-runs"] };

/** The actions that a goal calls for, in their order. */
export const actionsFor = (goal: Pick<Goal, "kind">): Action[] => planActions("signed-off", new Set(GIVEN[goal.kind]));
