import type { StepState } from "@/core/job";

/** A step as its card shows it. */
export interface CardStep {
  readonly title: string;
  readonly why: string;
  readonly writes: boolean;
  /** It is a check. */
  readonly checks: boolean;
  readonly state: StepState;
}
