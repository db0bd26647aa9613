import { CHECK_KINDS } from "@/core/checks/kinds";
import type { CheckKind } from "@/core/checks/kind";
import type { Touched } from "@/core/checks/touched";

/** A check with what calls for it: never nothing. */
export interface Called {
  readonly kind: CheckKind;
  readonly because: readonly Touched[];
}

/** The checks that a change calls for, and no others, in the order in which they are done. */
export const calledBy = (touched: readonly Touched[]): Called[] =>
  CHECK_KINDS.flatMap((kind: CheckKind) => {
    const because = touched.filter(kind.calls);
    return because.length > 0 ? [{ kind, because }] : [];
  });
