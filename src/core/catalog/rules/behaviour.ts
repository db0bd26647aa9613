import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { after, inverse, type Linear } from "@/core/catalog/rules/linear";
import { speaksOf } from "@/core/catalog/rules/parts";
import { NAME, NUMBER } from "@/core/catalog/rules/schema";

export interface BehaviourRule {
  readonly rule: "behaviour";
  readonly key: string;
  /** Of what a split makes of the setting, only this. */
  readonly part?: string;
  readonly why: string;
  /** The value that would feel as before: old × factor + offset. */
  readonly suggest?: Linear;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly behaviour: BehaviourRule;
  }
}

export const behaviour: RuleKind<BehaviourRule> = {
  rule: "behaviour",
  about:
    "Same name and number, other effect: always asked, never carried quietly. `suggest` gives the value that would feel as before.",
  exactly: [
    "From here on two numbers go along: the one that stands there, and the one that would feel as before. That is worked out in the unit of the later release (felt = felt so far × factor + offset, rounded to its step); where nothing was suggested before, it begins as the value itself.",
    "Every later rule acts on both alike, and both are rounded and limited at the destination. A later behaviour with a suggestion goes on from what would feel as before; one without ends the suggestion for good.",
    "A person is asked, whether or not somebody set the value: keep the number or, where it is another, take the one suggested.",
    "Backwards: the suggestion is undone, said in the older unit: with u for what the rescales of the passage do to the number, felt = u⁻¹(suggest⁻¹(u(felt so far))), rounded to the older step. A factor of 0 suggests nothing on the way back.",
  ],
  schema: {
    properties: {
      key: NAME,
      part: NAME,
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
  value: (rule, passing) =>
    speaksOf(rule, passing)
      ? [
          {
            ...passing,
            loss: "look",
            behaviour: { why: rule.why, ...(rule.suggest ? { suggest: rule.suggest } : {}) },
          },
        ]
      : undefined,
  loss: () => "look",
  backwards: ({ key, part, why, suggest }, { later, linear }) => ({
    reach: "whole",
    rules: later(key, part).map((place) => {
      // the suggestion is in the later unit, and rules act on a value before they say what it means
      const whole = linear(key, part ?? place.key);
      const back = suggest && suggest.factor !== 0 ? after(after(whole, inverse(suggest)), inverse(whole)) : undefined;
      return { rule: "behaviour" as const, ...place, why: backwardsWhy(why), ...(back ? { suggest: back } : {}) };
    }),
  }),
};
