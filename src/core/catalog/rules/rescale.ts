import type { SettingDefinition } from "@/core/catalog/definition";
import { defaultsUnder } from "@/core/catalog/rules/defaults";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { applied, inverse, linearLoss, scaled, type Linear } from "@/core/catalog/rules/linear";
import { FACTOR, NAME, NUMBER } from "@/core/catalog/rules/schema";
import { showValue, type Value } from "@/core/config";

/** new = old × factor + offset, in the new unit, rounded to the new step. */
export interface RescaleRule extends Linear {
  readonly rule: "rescale";
  readonly key: string;
  readonly to?: string;
  readonly why: string;
}

/** A rescaled setting keeps its meaning: its concept's factor follows. The new type stands in the release's changes. */
function rescaled(setting: SettingDefinition, rule: RescaleRule): SettingDefinition {
  const change = (value: Value) => (typeof value === "number" ? Number(applied(value, rule).toPrecision(12)) : value);
  const { concept } = setting;
  const factor = (concept?.factor ?? 1) / rule.factor;
  return {
    ...setting,
    key: rule.to ?? setting.key,
    ...defaultsUnder(setting, change),
    ...(concept === undefined
      ? {}
      : { concept: { ...concept, factor, offset: (concept.offset ?? 0) - (rule.offset ?? 0) * factor } }),
  };
}

const factorText = ({ factor, offset = 0 }: Linear) =>
  `× ${Number(factor.toPrecision(6))}${offset === 0 ? "" : ` ${offset < 0 ? "−" : "+"} ${Math.abs(Number(offset.toPrecision(6)))}`}`;

export const rescale: RuleKind<RescaleRule> = {
  rule: "rescale",
  about: "A number is kept in another unit: new = old × factor + offset, rounded to the new step.",
  schema: {
    properties: { key: NAME, to: NAME, factor: FACTOR, offset: NUMBER },
    required: ["key", "factor", "why"],
  },
  example: {
    rule: "rescale",
    key: "climb.most",
    to: "climb.limit",
    factor: 0.01,
    why: "Metres instead of centimetres",
  },
  phase: "value",
  effect: "converted",
  rescales: true,
  sentence: (rule) => `${rule.key} ${factorText(rule)}${rule.to === undefined ? "" : ` → ${rule.to}`}`,
  keys: ({ key }) => [key],
  becomes: ({ to }) => (to === undefined ? undefined : [to]),
  define: (rule, setting) => rescaled(setting, rule),
  value(rule, passing, { origin, definition }) {
    const key = rule.to ?? passing.key;
    const type = definition(key)?.type ?? origin.type;
    // what is no number is of another kind than the rule takes it for; the plan asks
    const { value, loss } =
      type.kind === "number" ? scaled(passing.value, rule, type) : { ...passing, loss: "none" as const };
    return [
      { ...passing, key, value, loss, before: showValue(passing.value, origin.type), after: showValue(value, type) },
    ];
  },
  loss: (rule, { before, after }) => linearLoss(rule, before(rule.key), after(rule.to ?? rule.key)),
  backwards: (rule, { laterKey }) => ({
    reach: "rounded",
    rules: [
      {
        rule: "rescale",
        key: laterKey(rule.key),
        ...(rule.to === undefined ? {} : { to: rule.key }),
        ...inverse(rule),
        why: backwardsWhy(rule.why),
      },
    ],
  }),
};
