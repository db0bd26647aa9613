import type { Plan } from "@/core/carryover";
import type { Catalogue, Release } from "@/core/catalog";
import type { Recital } from "@/core/idiom";
import { YES, type Facts } from "@/core/job/fact";
import type { Result } from "@/core/problem";

/** Another target than the board's own: no release of the wanted one builds it, and somebody takes what that breaks. */
export interface Instead {
  readonly target: string;
  readonly reason: string;
}

/** What a plan is made from: the backup that the goal names, and the one that the job took of the board. */
export interface Sources {
  readonly chosen?: Pick<Recital, "configuration" | "release">;
  readonly board?: Pick<Recital, "configuration" | "release">;
}

/** What every visit ends with that writes settings: they are proved, what is measured on a board was, and somebody signs. */
export const BACK_IN_SERVICE: Facts = {
  "main: settings proved": YES,
  "main: calibrated": YES,
  "visit: signed off": YES,
};

/** A kind of goal: what is so before the job begins, what shall be so at its end. */
export interface GoalKind<G extends { readonly kind: string }> {
  readonly kind: G["kind"];
  readonly given: (goal: G) => Facts;
  readonly wanted: (goal: G) => Facts;
  /** The settings come from another aircraft, or from the release where there is none. */
  readonly ofAnother?: true;
  /** What the board itself holds has a part in the plan: by its kind, or by what was wished. */
  readonly keepsOwn?: (goal: G) => boolean;
  /** Its plan, where that is more than one source carried over. */
  readonly plan?: (goal: G, sources: Sources, to: Release, target: string, catalogue: Catalogue) => Result<Plan>;
}
