import type { SettingDefinition } from "@/core/catalog/definition";
import { definedUnder } from "@/core/catalog/rules/defaults";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { backAt, keyAfter, speaksOf } from "@/core/catalog/rules/parts";
import { NAME, WORDS } from "@/core/catalog/rules/schema";
import { reverseWords, turnsRound, wordAs, wordIn, wordsLoss, wordsText, type Words } from "@/core/catalog/rules/words";
import { showValue, type Value } from "@/core/config";

export interface MapRule {
  readonly rule: "map";
  readonly key: string;
  readonly to?: string;
  /** Of what a split makes of the setting, only this. */
  readonly part?: string;
  readonly words: Words;
  readonly why: string;
}

declare module "@/core/catalog/rules/kind" {
  interface RuleShapes {
    readonly map: MapRule;
  }
}

const mappedValue = (words: Words, value: Value): Value =>
  Array.isArray(value)
    ? (value as readonly string[]).map((flag) => wordIn(words, flag) ?? flag)
    : (wordIn(words, String(value)) ?? value);

/** A mapped setting keeps its meaning: its concept's words follow. */
function mapped(setting: SettingDefinition, { to, words }: MapRule): SettingDefinition {
  const { concept } = setting;
  return {
    ...setting,
    key: to ?? setting.key,
    ...definedUnder(setting, (value) => mappedValue(words, value)),
    ...(concept === undefined
      ? {}
      : {
          concept: {
            ...concept,
            words: Object.fromEntries(Object.entries(words).map(([old, word]) => [word, concept.words?.[old] ?? old])),
          },
        }),
  };
}

export const map: RuleKind<MapRule> = {
  rule: "map",
  about: "A choice has other words, or flags have; a word that is not named has no counterpart and asks a person.",
  exactly: [
    "All words change at once: what is named on the left is a word of the earlier release. Of a switch the words are `true` and `false`, where it becomes a choice or the other way.",
    "Of flags each is mapped by itself; a flag that is not named keeps its word, and one that the destination does not have is left out and told.",
    "`to` is the later name, where no other rule gives one; `part` names the one of a split's parts that it speaks of.",
    "Backwards: the words the other way round. What two words became has no single way back and asks a person.",
  ],
  schema: { properties: { key: NAME, to: NAME, part: NAME, words: WORDS }, required: ["key", "words", "why"] },
  example: {
    rule: "map",
    key: "lamp.mode",
    words: { slow: "calm", quick: "busy" },
    why: "Words that say what it looks like",
  },
  phase: "value",
  effect: "converted",
  sentence: ({ key, to, words }) => `${key}${to === undefined ? "" : ` → ${to}`}: ${wordsText(words)}`,
  keys: ({ key }) => [key],
  becomes: ({ to }) => (to === undefined ? undefined : [to]),
  define: (rule, setting) => mapped(setting, rule),
  value(rule, passing, context) {
    if (!speaksOf(rule, passing)) return undefined;
    const key = keyAfter(rule, passing, context);
    const type = context.definition(key)?.type ?? context.origin.type;
    if (Array.isArray(passing.value)) {
      // a flag without counterpart is told when the new setting does not take it
      const value = mappedValue(rule.words, passing.value);
      return [
        {
          ...passing,
          key,
          value,
          before: showValue(passing.value, context.origin.type),
          after: showValue(value, type),
        },
      ];
    }
    const word = wordIn(rule.words, String(passing.value));
    const trail = { before: String(passing.value), after: word ?? "no counterpart" };
    return [
      word === undefined
        ? { ...passing, ...trail, key, unmatched: true, loss: "lost" }
        : { ...passing, ...trail, key, value: wordAs(word, type) },
    ];
  },
  loss: ({ key, words }, { before }) => wordsLoss(words, before(key)),
  backwards: (rule, { later }) => ({
    reach: turnsRound(rule.words) ? "whole" : "part",
    rules: later(rule.key, rule.part).map((place) => ({
      rule: "map" as const,
      ...backAt(rule, place),
      words: reverseWords(rule.words),
      why: backwardsWhy(rule.why),
    })),
  }),
};
