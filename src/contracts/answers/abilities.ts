import type { AbilityNeed } from "@/core/carryover";

/** Something that the aircraft of a board could do, and what that wants of it. */
export interface AbilityView {
  readonly id: string;
  readonly title: string;
  readonly says: string;
  readonly needs: readonly AbilityNeed[];
}
