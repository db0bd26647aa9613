import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME, SHORT } from "@/core/catalog/rules/schema";
import { reverseWords, wordIn, wordsText } from "@/core/catalog/rules/words";

/** Rows are known by other keys, one to one. */
export interface RenumberRule {
  readonly rule: "renumber";
  readonly table: string;
  readonly rows: Readonly<Record<string, string>>;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly renumber: RenumberRule;
  }
}

const moved = ({ rows }: RenumberRule) => Object.entries(rows).filter(([key, now]) => key !== now);

export const renumber: RuleKind<RenumberRule> = {
  rule: "renumber",
  about: "Rows of a table are known by other keys: old key → new key, one to one.",
  exactly: [
    "Keys of several columns are joined by a blank. A key that is not named stays. No two keys become one.",
    "Default rows follow, unless the release states its rows under `changeRows`. Backwards: the other way round.",
  ],
  schema: {
    properties: { table: NAME, rows: { type: "object", minProperties: 2, additionalProperties: SHORT } },
    required: ["table", "rows", "why"],
  },
  example: { rule: "renumber", table: "lamps", rows: { "1": "2", "2": "1" }, why: "Counted from the left" },
  phase: "name",
  effect: "behaviour",
  sentence: ({ table, rows }) => `table ${table}: ${wordsText(rows)}`,
  keys: () => [],
  table: {
    key: ({ rows }, key) => wordIn(rows, key),
    tells: (rule, { title }) => {
      const [before, after] = [0, 1].map((side) =>
        moved(rule)
          .map((pair) => pair[side])
          .join(", "),
      );
      return { effect: "behaviour", title: `${title} ${before ?? ""}`, before: before ?? "", after: after ?? "" };
    },
  },
  loss: () => "none",
  backwards: (rule) => ({
    reach: "whole",
    rules: [{ ...rule, rows: reverseWords(rule.rows), why: backwardsWhy(rule.why) }],
  }),
};
