import { titleIn } from "@/core/catalog/rules/cell-text";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME, WORDS } from "@/core/catalog/rules/schema";
import { reverseWords, turnsRound, wordIn, wordsText, type Words } from "@/core/catalog/rules/words";

export interface CellsRule {
  readonly rule: "cells";
  readonly table: string;
  readonly column: string;
  readonly words: Words;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly cells: CellsRule;
  }
}

export const cells: RuleKind<CellsRule> = {
  rule: "cells",
  about: "The words of one column of a table have other names.",
  exactly: [
    "All words change at once; a word that is not named stays. A row whose word the destination does not offer cannot stand there, and a person decides.",
    "Column and words are named as on the earlier release, also where another rule renames the column. Defaults and default rows follow.",
    "Backwards: the words the other way round; what two words became stays as it is.",
  ],
  schema: { properties: { table: NAME, column: NAME, words: WORDS }, required: ["table", "column", "words", "why"] },
  example: { rule: "cells", table: "lamps", column: "colour", words: { rose: "red" }, why: "Plain colours" },
  phase: "value",
  effect: "converted",
  sentence: ({ table, column, words }) => `table ${table}, ${column}: ${wordsText(words)}`,
  keys: () => [],
  table: {
    cell(rule, column, value) {
      const word = column === rule.column ? wordIn(rule.words, String(value)) : undefined;
      return word === undefined || word === value ? undefined : { value: word, before: String(value), after: word };
    },
    word: (rule, column, word) => (column === rule.column ? wordIn(rule.words, word) : undefined),
    tells(rule, before) {
      const moved = Object.entries(rule.words).filter(([word, now]) => word !== now);
      return {
        effect: "converted",
        title: `${before.title}: ${titleIn(before, rule.column)}`,
        before: moved.map(([word]) => word).join(", "),
        after: moved.map(([, now]) => now).join(", "),
      };
    },
  },
  loss: () => "none",
  backwards: (rule, { laterColumn }) => ({
    reach: turnsRound(rule.words) ? "whole" : "part",
    rules: [
      {
        ...rule,
        column: laterColumn(rule.table, rule.column),
        words: reverseWords(rule.words),
        why: backwardsWhy(rule.why),
      },
    ],
  }),
};
