import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME } from "@/core/catalog/rules/schema";

export interface ColumnRule {
  readonly rule: "column";
  readonly table: string;
  readonly column: string;
  readonly to: string;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly column: ColumnRule;
  }
}

export const column: RuleKind<ColumnRule> = {
  rule: "column",
  about: "A column of a table has another name.",
  exactly: [
    "Cells, the column's default, default rows and whatever else names the column follow. Backwards: the old name again.",
  ],
  schema: { properties: { table: NAME, column: NAME, to: NAME }, required: ["table", "column", "to", "why"] },
  example: { rule: "column", table: "lamps", column: "colour", to: "tint", why: "Shades as well" },
  phase: "name",
  effect: "renamed",
  sentence: ({ table, column: name, to }) => `table ${table}: ${name} → ${to}`,
  keys: () => [],
  table: {
    column: (rule, name) => (name === rule.column ? rule.to : undefined),
    cell: (rule, name, value) => (name === rule.column ? { value, before: rule.column, after: rule.to } : undefined),
    tells: (rule, { title }) => ({ effect: "renamed", title, before: rule.column, after: rule.to }),
  },
  loss: () => "none",
  backwards: (rule) => ({
    reach: "whole",
    rules: [{ ...rule, column: rule.to, to: rule.column, why: backwardsWhy(rule.why) }],
  }),
};
