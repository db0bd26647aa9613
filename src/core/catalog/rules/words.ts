import type { SettingDefinition } from "@/core/catalog/definition";
import type { Value, ValueType } from "@/core/config";
import type { Loss } from "@/core/catalog/rules/kind";

export type Words = Readonly<Record<string, string>>;

/** Own words only: a text may be called like a member of every object. */
export const wordIn = (words: Words, word: string): string | undefined =>
  Object.hasOwn(words, word) ? words[word] : undefined;

/** A word as a value of a type: of a switch the words are `true` and `false`. */
export const wordAs = (word: string, type: ValueType): Value =>
  type.kind === "switch" && (word === "true" || word === "false") ? word === "true" : word;

const singles = (words: Words) => {
  const became = Object.values(words);
  return Object.entries(words).filter(([, word]) => became.indexOf(word) === became.lastIndexOf(word));
};

/** Words the other way round. What two words became has no single way back and is left out: it asks a person. */
export const reverseWords = (words: Words): Record<string, string> =>
  Object.fromEntries(singles(words).map(([word, now]) => [now, word]));

export const turnsRound = (words: Words): boolean => singles(words).length === Object.keys(words).length;

export const wordsText = (words: Words): string =>
  Object.entries(words)
    .map(([a, b]) => (a === b ? a : `${a} → ${b}`))
    .join(", ");

/** Lost where a word of the old setting has none in the new one. */
export function wordsLoss(words: Words, before: SettingDefinition | undefined): Loss {
  const type = before?.type;
  if (type?.kind !== "choice" && type?.kind !== "flags") return "none";
  return type.options.every((word) => wordIn(words, word) !== undefined) ? "none" : "lost";
}
