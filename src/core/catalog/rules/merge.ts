import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME, some } from "@/core/catalog/rules/schema";
import type { Value } from "@/core/config";

export interface MergeRule {
  readonly rule: "merge";
  readonly keys: readonly string[];
  readonly to: string;
  readonly take: "first" | "largest" | "smallest";
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly merge: MergeRule;
  }
}

const better = { largest: (a: Value, b: Value) => a > b, smallest: (a: Value, b: Value) => a < b };

export const merge: RuleKind<MergeRule> = {
  rule: "merge",
  about: "Several settings became one, which takes the first, the largest or the smallest of their values.",
  exactly: [
    "In each scope by itself. The new setting is defined under `add`; every source is of its kind and unit, unless a rescale or a map of that source converts it.",
    "Values that somebody set count before those that nobody set. One that was set, or several that are the same after conversion, goes there unasked, whatever `take` says. Where set values differ, a person decides, and sees all of them.",
    "Where nobody set any, `take` says which counts: the `first` in the order of `keys` that reaches the place, the `largest` or the `smallest`; of equal ones the first. It counts as not set.",
    "Backwards: a split, into each of the settings that were.",
  ],
  schema: {
    properties: { keys: some(2, 8, NAME), to: NAME, take: { enum: ["first", "largest", "smallest"] } },
    required: ["keys", "to", "take", "why"],
  },
  example: { rule: "merge", keys: ["lamp.left", "lamp.right"], to: "lamp.level", take: "largest", why: "One lamp" },
  phase: "name",
  effect: "converted",
  sentence: ({ keys, to, take }) => `${keys.join(", ")} → ${to} (the ${take})`,
  keys: ({ keys }) => keys,
  becomes: ({ to }) => [to],
  define: () => undefined,
  value: ({ to }, passing) => [{ ...passing, key: to, before: passing.key, after: to }],
  join({ take }, values) {
    if (take === "first") return 0;
    const isBetter = better[take];
    return values.reduce<number>((best, value, i) => (isBetter(value, values[best] ?? value) ? i : best), 0);
  },
  loss: ({ keys }, _, key) => (key === keys[0] ? "none" : "lost"),
  backwards: ({ keys, to, why }) => ({
    reach: "part",
    rules: [{ rule: "split", key: to, into: keys, why: backwardsWhy(why) }],
  }),
};
