import type { Facts } from "@/core/job/fact";

/** A kind of goal: what is so before the job begins, what shall be so at its end. */
export interface GoalKind<G extends { readonly kind: string }> {
  readonly kind: G["kind"];
  readonly given: (goal: G) => Facts;
  readonly wanted: (goal: G) => Facts;
}
