import type { SettingDefinition } from "@/core/catalog/definition";
import { defaultsUnder } from "@/core/catalog/rules/defaults";
import { backwardsWhy, type RuleKind } from "@/core/catalog/rules/kind";
import { NAME, WORDS } from "@/core/catalog/rules/schema";
import { reverseWords, turnsRound, wordIn, wordsLoss, wordsText, type Words } from "@/core/catalog/rules/words";
import { showValue, type Value } from "@/core/config";

export interface MapRule {
  readonly rule: "map";
  readonly key: string;
  readonly to?: string;
  readonly words: Words;
  readonly why: string;
}

/** A mapped setting keeps its meaning: its concept's words follow. */
function mapped(setting: SettingDefinition, { to, words }: MapRule): SettingDefinition {
  const change = (value: Value) => wordIn(words, String(value)) ?? value;
  const { concept } = setting;
  return {
    ...setting,
    key: to ?? setting.key,
    ...defaultsUnder(setting, change),
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
  schema: { properties: { key: NAME, to: NAME, words: WORDS }, required: ["key", "words", "why"] },
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
  value({ to, words }, passing, { origin, definition }) {
    const key = to ?? passing.key;
    if (Array.isArray(passing.value)) {
      // a flag without counterpart is told when the new setting does not take it
      const value = (passing.value as readonly string[]).map((flag) => wordIn(words, flag) ?? flag);
      const shown = (each: Value) => showValue(each, definition(key)?.type ?? origin.type);
      return [{ ...passing, key, value, before: showValue(passing.value, origin.type), after: shown(value) }];
    }
    const word = wordIn(words, String(passing.value));
    const told = { before: String(passing.value), after: word ?? "no counterpart" };
    return [
      word === undefined
        ? { ...passing, ...told, key, unmatched: true, loss: "lost" }
        : { ...passing, ...told, key, value: word },
    ];
  },
  loss: ({ key, words }, { before }) => wordsLoss(words, before(key)),
  backwards: (rule, { laterKey }) => ({
    reach: turnsRound(rule.words) ? "whole" : "part",
    rules: [
      {
        rule: "map",
        key: laterKey(rule.key),
        ...(rule.to === undefined ? {} : { to: rule.key }),
        words: reverseWords(rule.words),
        why: backwardsWhy(rule.why),
      },
    ],
  }),
};
