import type { Firmware, PassageRule } from "@/core/catalog";

/** One step of the way between releases: by the rules of a passage, or by meanings that two families share. */
export interface Hop {
  readonly from: Firmware;
  readonly to: Firmware;
  readonly by: "passage" | "passage backwards" | "shared meanings";
  /** In the direction of the hop; empty for shared meanings. */
  readonly rules: readonly PassageRule[];
}
