import type { Touched } from "@/core/checks/touched";

/** Something that is shown of an aircraft before it goes back into service. */
export interface CheckKind {
  readonly id: string;
  readonly title: string;
  /** What has to be so before, in the order in which it is seen to. */
  readonly before: readonly string[];
  /** What a person does. */
  readonly does: string;
  readonly shows: string;
  /** What it leaves open all the same. */
  readonly showsNot: string;
  /** Whether something that is not as it was calls for it. */
  readonly calls: (touched: Touched) => boolean;
}
