const NUMBERS = [
  "No",
  "One",
  "Two",
  "Three",
  "Four",
  "Five",
  "Six",
  "Seven",
  "Eight",
  "Nine",
  "Ten",
  "Eleven",
  "Twelve",
  "Thirteen",
  "Fourteen",
  "Fifteen",
  "Sixteen",
];

/** A number as a sentence begins with it; large ones stay figures. */
export const inWords = (n: number): string => NUMBERS[n] ?? String(n);

/** “1 value”, “3 values”. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** Whether every word of a search stands somewhere in the texts. */
export function hasWords(query: string, texts: readonly (string | undefined)[]): boolean {
  if (query === "") return true;
  const text = texts.join(" ").toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
