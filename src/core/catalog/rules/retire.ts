import type { RuleKind } from "@/core/catalog/rules/kind";
import { NAME } from "@/core/catalog/rules/schema";

export interface RetireRule {
  readonly rule: "retire";
  readonly key: string;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly retire: RetireRule;
  }
}

export const retire: RuleKind<RetireRule> = {
  rule: "retire",
  about: "A setting is gone, for a reason that people are told.",
  exactly: [
    "Its values end here, in every scope; what somebody had set is told as lost.",
    "Backwards: on the older release it is new again, and starts at its default.",
  ],
  schema: { properties: { key: NAME }, required: ["key", "why"] },
  example: { rule: "retire", key: "lamp.warm-up", why: "The lamp is ready at once" },
  phase: "meaning",
  effect: "retired",
  sentence: ({ key }) => key,
  keys: ({ key }) => [key],
  becomes: () => [],
  define: () => undefined,
  value: ({ why }, passing) => [{ ...passing, ended: why, loss: "lost" }],
  loss: () => "lost",
  // on the way back it is new again
  backwards: () => ({ reach: "none", rules: [] }),
};
