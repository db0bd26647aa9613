import type { PassageRule, Firmware } from "@/core/catalog";

/** The key that a setting of the ancestor has after the rules; a split gives its first part. */
function laterKey(key: string, rules: readonly PassageRule[]): string {
  let now = key;
  for (const rule of rules) {
    if (rule.rule === "rename" && rule.key === key) now = rule.to;
    if ((rule.rule === "rescale" || rule.rule === "map") && rule.key === key && rule.to !== undefined) now = rule.to;
    if (rule.rule === "merge" && rule.keys.includes(key)) now = rule.to;
  }
  return now;
}

const laterColumn = (table: string, column: string, rules: readonly PassageRule[]): string => {
  const rename = rules.find((rule) => rule.rule === "column" && rule.table === table && rule.column === column);
  return rename?.rule === "column" ? rename.to : column;
};

/** Words the other way round. What two words became has no single way back and is left out: it asks a person. */
function reverseWords(words: Readonly<Record<string, string>>): Record<string, string> {
  const became = Object.values(words);
  const single = Object.entries(words).filter(([, word]) => became.indexOf(word) === became.lastIndexOf(word));
  return Object.fromEntries(single.map(([word, now]) => [now, word]));
}

const inverse = ({ factor, offset = 0 }: { readonly factor: number; readonly offset?: number }) => ({
  factor: 1 / factor,
  offset: -offset / factor,
});

const backwards = (why: string) => `On the way back: ${why}`;

function reverseRule(rule: PassageRule, rules: readonly PassageRule[], from: Firmware): PassageRule[] {
  switch (rule.rule) {
    case "rename":
      return [{ rule: "rename", key: laterKey(rule.key, rules), to: rule.key, why: backwards(rule.why ?? "Renamed") }];
    case "rescale":
      return [
        {
          rule: "rescale",
          key: laterKey(rule.key, rules),
          ...(rule.to === undefined ? {} : { to: rule.key }),
          ...inverse(rule),
          why: backwards(rule.why),
        },
      ];
    case "map":
      return [
        {
          rule: "map",
          key: laterKey(rule.key, rules),
          ...(rule.to === undefined ? {} : { to: rule.key }),
          words: reverseWords(rule.words),
          why: backwards(rule.why),
        },
      ];
    case "behaviour":
      return [
        {
          rule: "behaviour",
          key: laterKey(rule.key, rules),
          why: backwards(rule.why),
          ...(rule.suggest && rule.suggest.factor !== 0 ? { suggest: inverse(rule.suggest) } : {}),
        },
      ];
    case "move": {
      const scope = from.settings.find((setting) => setting.key === rule.key)?.scope ?? "system";
      return [{ rule: "move", key: laterKey(rule.key, rules), to: scope, why: backwards(rule.why) }];
    }
    case "split":
      return [{ rule: "merge", keys: rule.into, to: rule.key, take: "first", why: backwards(rule.why) }];
    case "merge":
      return [{ rule: "split", key: rule.to, into: rule.keys, why: backwards(rule.why) }];
    case "column":
      return [{ ...rule, column: rule.to, to: rule.column, why: backwards(rule.why) }];
    case "cells":
      return [
        {
          ...rule,
          column: laterColumn(rule.table, rule.column, rules),
          words: reverseWords(rule.words),
          why: backwards(rule.why),
        },
      ];
    case "renumber":
      return [
        {
          ...rule,
          rows: Object.fromEntries(Object.entries(rule.rows).map(([key, became]) => [became, key])),
          why: backwards(rule.why),
        },
      ];
    case "ranges":
      return [
        {
          ...rule,
          columns: rule.columns.map((column) => laterColumn(rule.table, column, rules)),
          ...inverse(rule),
          why: backwards(rule.why),
        },
      ];
    // what was retired is new on the way back, and what was restricted is free again
    case "retire":
    case "restrict":
      return [];
  }
}

/**
 * The rules of a passage run backwards, as rules again: named by the keys of the later release, the last one first.
 * `from` is the release that the passage starts at.
 */
export const reverseRules = (rules: readonly PassageRule[], from: Firmware): PassageRule[] =>
  rules.toReversed().flatMap((rule) => reverseRule(rule, rules, from));
