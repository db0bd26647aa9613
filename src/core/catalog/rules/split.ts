import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME, some } from "@/core/catalog/rules/schema";

export interface SplitRule {
  readonly rule: "split";
  readonly key: string;
  readonly into: readonly string[];
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly split: SplitRule;
  }
}

export const split: RuleKind<SplitRule> = {
  rule: "split",
  about: "One setting became several; each takes its value. They stand in the release's own additions.",
  exactly: [
    "Each part takes the value, and whether somebody set it, in the scope where it stood. The parts are defined under `add`, of the same kind and unit unless a rule converts the value (`part` says which of them a rule speaks of).",
    "Backwards: a merge of the parts that takes the first.",
  ],
  schema: { properties: { key: NAME, into: some(2, 8, NAME) }, required: ["key", "into", "why"] },
  example: { rule: "split", key: "lamp.level", into: ["lamp.left", "lamp.right"], why: "Two lamps" },
  phase: "name",
  effect: "converted",
  sentence: ({ key, into }) => `${key} → ${into.join(", ")}`,
  keys: ({ key }) => [key],
  becomes: ({ into }) => into,
  define: () => undefined,
  value: ({ into }, passing) => into.map((key) => ({ ...passing, key, before: passing.key, after: key })),
  loss: () => "none",
  backwards: ({ key, into, why }) => ({
    // what went apart on purpose afterwards comes back as the first
    reach: "whole",
    rules: [{ rule: "merge", keys: into, to: key, take: "first", why: backwardsWhy(why) }],
  }),
};
