import type { SettingDefinition } from "@/core/catalog/definition";
import { definedUnder } from "@/core/catalog/rules/defaults";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { applied, inverse, linearLoss, linearText, scaled, type Linear } from "@/core/catalog/rules/linear";
import { backAt, keyAfter, speaksOf } from "@/core/catalog/rules/parts";
import { FACTOR, NAME, NUMBER } from "@/core/catalog/rules/schema";
import { showValue, type Value } from "@/core/config";

/** new = old × factor + offset, in the new unit, rounded to the new step. */
export interface RescaleRule extends Linear {
  readonly rule: "rescale";
  readonly key: string;
  readonly to?: string;
  /** Of what a split makes of the setting, only this. */
  readonly part?: string;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly rescale: RescaleRule;
  }
}

/** A rescaled setting keeps its meaning: its concept's factor follows. The new type stands in the release's changes. */
function rescaled(setting: SettingDefinition, rule: RescaleRule): SettingDefinition {
  const change = (value: Value) => (typeof value === "number" ? Number(applied(value, rule).toPrecision(12)) : value);
  const { concept, maxByProcessor } = setting;
  const factor = (concept?.factor ?? 1) / rule.factor;
  return {
    ...setting,
    key: rule.to ?? setting.key,
    ...definedUnder(setting, change),
    ...(maxByProcessor === undefined
      ? {}
      : {
          maxByProcessor: Object.fromEntries(
            Object.entries(maxByProcessor).map(([processor, most]) => [processor, change(most) as number]),
          ),
        }),
    ...(concept === undefined
      ? {}
      : { concept: { ...concept, factor, offset: (concept.offset ?? 0) - (rule.offset ?? 0) * factor } }),
  };
}

export const rescale: RuleKind<RescaleRule> = {
  rule: "rescale",
  about: "A number is kept in another unit: new = old × factor + offset, rounded to the new step.",
  exactly: [
    "The step is that of the setting on the later release, under its later name; halves go up. The value is not limited here: ranges count at the destination alone.",
    "`to` is its later name, where no other rule gives one. `part` names the one of a split's parts that it speaks of; without it each part is rescaled.",
    "Defaults by target, what another part does (`doneBy`) and limits by processor are rescaled with it; the new type and the default stand in the release's `change`.",
    "Backwards: old = (new − offset) ÷ factor, rounded to the older step.",
  ],
  schema: {
    properties: { key: NAME, to: NAME, part: NAME, factor: FACTOR, offset: NUMBER },
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
  linear: (rule, part) => (rule.part === undefined || rule.part === part ? rule : undefined),
  sentence: (rule) =>
    `${rule.key} ${linearText(rule)}${rule.to === undefined ? "" : ` → ${rule.to}`}${rule.part === undefined ? "" : ` for ${rule.part}`}`,
  keys: ({ key }) => [key],
  becomes: ({ to }) => (to === undefined ? undefined : [to]),
  define: (rule, setting) => rescaled(setting, rule),
  value(rule, passing, context) {
    if (!speaksOf(rule, passing)) return undefined;
    const key = keyAfter(rule, passing, context);
    const type = context.definition(key)?.type ?? context.origin.type;
    // what is no number is of another kind than the rule takes it for; the plan asks
    const { value, loss } =
      type.kind === "number" ? scaled(passing.value, rule, type) : { ...passing, loss: "none" as const };
    return [
      {
        ...passing,
        key,
        value,
        loss,
        before: showValue(passing.value, context.origin.type),
        after: showValue(value, type),
      },
    ];
  },
  loss: (rule, { before, after }) => linearLoss(rule, before(rule.key), after(rule.part ?? rule.to ?? rule.key)),
  backwards: (rule, { later }) => ({
    reach: "rounded",
    rules: later(rule.key, rule.part).map((place) => ({
      rule: "rescale" as const,
      ...backAt(rule, place),
      ...inverse(rule),
      why: backwardsWhy(rule.why),
    })),
  }),
};
