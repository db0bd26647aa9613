import { titleIn } from "@/core/catalog/rules/cell-text";
import type { RuleKind } from "@/core/catalog/rules/kind";
import { NAME, SHORT, some, VALUE } from "@/core/catalog/rules/schema";
import type { Value } from "@/core/config";

/** Rows with this cell value are possible under these keys only. */
export interface RestrictRule {
  readonly rule: "restrict";
  readonly table: string;
  readonly column: string;
  readonly value: Value;
  readonly on: readonly string[];
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly restrict: RestrictRule;
  }
}

export const restrict: RuleKind<RestrictRule> = {
  rule: "restrict",
  about:
    "Rows with this word or number in a column are possible under the keys named only; another one has to be chosen.",
  exactly: [
    "From this release on, and on all that follow. Column, word and keys are named as on the earlier release and go through the other rules of the passage, and those of later ones, like the rows themselves.",
    "A row that stands elsewhere waits for a person. Where all its cells are the columns' defaults it says nothing, and is left out.",
    "Backwards: it does not hold any more.",
  ],
  schema: {
    properties: { table: NAME, column: NAME, value: VALUE, on: some(1, 64, SHORT) },
    required: ["table", "column", "value", "on", "why"],
  },
  example: {
    rule: "restrict",
    table: "lamps",
    column: "use",
    value: "strobe",
    on: ["1"],
    why: "Only the first can flash",
  },
  phase: "meaning",
  effect: "limited",
  sentence: ({ table, column, value, on }) => `table ${table}: ${column} ${String(value)} on ${on.join(", ")} only`,
  keys: () => [],
  table: {
    restricts: ({ column, value, on, why }) => ({ column, value, on, why }),
    tells: (rule, before) => ({
      effect: "limited",
      title: `${before.title}: ${titleIn(before, rule.column)} ${String(rule.value)}`,
      before: "any",
      after: rule.on.join(", "),
    }),
  },
  loss: () => "limit",
  // what was restricted is free again
  backwards: () => ({ reach: "whole", rules: [] }),
};
