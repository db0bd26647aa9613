import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { inverse, scaled, type Linear } from "@/core/catalog/rules/linear";
import { NAME, NUMBER } from "@/core/catalog/rules/schema";
import { limitValue } from "@/core/config";

export interface BehaviourRule {
  readonly rule: "behaviour";
  readonly key: string;
  readonly why: string;
  /** The value that would feel as before: old × factor + offset. */
  readonly suggest?: Linear;
}

export const behaviour: RuleKind<BehaviourRule> = {
  rule: "behaviour",
  about:
    "Same name and number, other effect: always asked, never carried quietly. `suggest` gives the value that would feel as before.",
  schema: {
    properties: {
      key: NAME,
      suggest: {
        type: "object",
        required: ["factor"],
        additionalProperties: false,
        properties: { factor: NUMBER, offset: NUMBER },
      },
    },
    required: ["key", "why"],
  },
  example: {
    rule: "behaviour",
    key: "hold.push",
    suggest: { factor: 0.5 },
    why: "The same number pushes twice as hard",
  },
  phase: "meaning",
  effect: "behaviour",
  sentence: ({ key, why }) => `${key}: ${why}`,
  keys: ({ key }) => [key],
  value({ why, suggest }, passing, { origin, definition }) {
    const type = definition(passing.key)?.type ?? origin.type;
    const suggestion = suggest && limitValue(scaled(passing.value, suggest, type).value, type);
    return [{ ...passing, loss: "look", behaviour: { why, ...(suggestion === undefined ? {} : { suggestion }) } }];
  },
  loss: () => "look",
  backwards: ({ key, why, suggest }, { laterKey }) => ({
    reach: "whole",
    rules: [
      {
        rule: "behaviour",
        key: laterKey(key),
        why: backwardsWhy(why),
        ...(suggest && suggest.factor !== 0 ? { suggest: inverse(suggest) } : {}),
      },
    ],
  }),
};
