import { cellText, columnNamed } from "@/core/catalog/rules/cell-text";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { applied, inverse, scaled, type Linear } from "@/core/catalog/rules/linear";
import { FACTOR, NAME, NUMBER, some } from "@/core/catalog/rules/schema";
import { showValue, type Value } from "@/core/config";

/** Positions mean other values: new = old × factor + offset, in the columns named. */
export interface RangesRule extends Linear {
  readonly rule: "ranges";
  readonly table: string;
  readonly columns: readonly string[];
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly ranges: RangesRule;
  }
}

export const ranges: RuleKind<RangesRule> = {
  rule: "ranges",
  about: "Positions in a table mean other values: new = old × factor + offset, in the columns named.",
  exactly: [
    "In every row, rounded to the step of the column on the later release; halves go up. Columns are named as on the earlier release. Column defaults and default rows follow unless the release states them.",
    "At the destination each number is held against its column's range and step; one that has to be limited is asked about.",
    "Backwards: old = (new − offset) ÷ factor, rounded to the older step.",
  ],
  schema: {
    properties: { table: NAME, columns: some(1, 8, NAME), factor: FACTOR, offset: NUMBER },
    required: ["table", "columns", "factor", "why"],
  },
  example: {
    rule: "ranges",
    table: "lamps",
    columns: ["from", "to"],
    factor: 0.1,
    why: "Per cent instead of per mille",
  },
  phase: "value",
  effect: "converted",
  rescales: true,
  sentence: ({ table, columns, factor }) => `table ${table}: ${columns.join(", ")} × ${Number(factor.toPrecision(6))}`,
  keys: () => [],
  table: {
    cell(rule, column, value, { before, after }) {
      if (!rule.columns.includes(column) || typeof value !== "number") return undefined;
      const { value: next, loss } = scaled(value, rule, after?.type);
      const shown = (each: Value, of: typeof before) => (of ? showValue(each, of.type) : String(each));
      return {
        value: next,
        before: `${column} ${shown(value, before)}`,
        after: `${after?.name ?? column} ${shown(next, after)}`,
        loss,
      };
    },
    tells(rule, before, after) {
      const samples = rule.columns.flatMap((name) => {
        const [column, now] = [columnNamed(before, name), columnNamed(after, name)];
        return typeof column?.default !== "number" || !now
          ? []
          : [{ before: cellText(column, column.default), after: cellText(now, applied(column.default, rule)) }];
      });
      return {
        effect: "converted",
        title: before.title,
        before: samples.map((each) => each.before).join(", "),
        after: samples.map((each) => each.after).join(", "),
      };
    },
  },
  loss: () => "rounding",
  backwards: (rule, { laterColumn }) => ({
    reach: "rounded",
    rules: [
      {
        rule: "ranges",
        table: rule.table,
        columns: rule.columns.map((column) => laterColumn(rule.table, column)),
        ...inverse(rule),
        why: backwardsWhy(rule.why),
      },
    ],
  }),
};
