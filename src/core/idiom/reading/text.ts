import { matchPattern } from "@/core/catalog/pattern";
import { scanClauses } from "@/core/idiom/reading/scan";
import type { Clause, ScannedText, SourceLine } from "@/core/idiom/definition/clause";
import { NO_QUOTE, type Idiom } from "@/core/idiom/definition/definition";

export type { ScannedText, SourceLine } from "@/core/idiom/definition/clause";

/** Splits without losing a byte: the lines' texts and ends joined give the text again. */
export function splitLines(text: string): SourceLine[] {
  const lines: SourceLine[] = [];
  let at = 0;
  while (at < text.length) {
    const feed = text.indexOf("\n", at);
    const stop = feed < 0 ? text.length : feed;
    const crlf = feed > at && text.charCodeAt(feed - 1) === 13;
    lines.push({
      number: lines.length + 1,
      text: text.slice(at, crlf ? stop - 1 : stop),
      end: feed < 0 ? "" : crlf ? "\r\n" : "\n",
    });
    at = stop + 1;
  }
  return lines;
}

export const joinLines = (lines: readonly SourceLine[]): string => lines.map((line) => line.text + line.end).join("");

/** Words of a text, quoted ones whole. Undefined when a quote is left open. */
export function splitWords(text: string, quote: string, escape = "\\"): string[] | undefined {
  const words: string[] = [];
  let word: string | undefined;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charAt(i);
    if (quoted && c === escape && (escape !== quote || text.charAt(i + 1) === quote) && i + 1 < text.length)
      word = (word ?? "") + text.charAt(++i);
    else if (c === quote) {
      quoted = !quoted;
      word ??= "";
    } else if (c === " " && !quoted) {
      if (word !== undefined) words.push(word);
      word = undefined;
    } else word = (word ?? "") + c;
  }
  if (word !== undefined) words.push(word);
  return quoted ? undefined : words;
}

/** A word as it must be written: in quotes when it is empty or holds one of the marks that would part or end it. */
export function quoteWord(word: string, quote: string, escape = "\\", marks: readonly string[] = []): string {
  if (quote === NO_QUOTE) return word;
  const plain =
    word !== "" &&
    !word.includes(" ") &&
    !word.includes(quote) &&
    !word.includes(escape) &&
    !marks.some((mark) => word.includes(mark));
  if (plain) return word;
  const inner = escape === quote ? word : word.replaceAll(escape, escape + escape);
  return quote + inner.replaceAll(quote, escape + quote) + quote;
}

/** The marks that mean something in the idiom's texts and so must stand in quotes inside a word. */
export function marksOf(idiom: Idiom): string[] {
  const { between, ends, continues, comments = [], lineCheck } = idiom.text;
  return [between, ends, continues, lineCheck?.mark.trim(), ...comments.flatMap((c) => [c.from, c.to])].filter(
    (mark): mark is string => mark !== undefined && mark !== "",
  );
}

/** Colours and places of the cursor, as terminals are told them (ECMA-48, control sequences). */

const SEQUENCE = /\x1b\[[0-9;?]{0,24}[@-~]/g;
const ESCAPE = "\x1b[";

/** A line without what colours it. */
export const withoutColours = (text: string): string => (text.includes(ESCAPE) ? text.replace(SEQUENCE, "") : text);

/** Takes colours and prompts off a line. */
export function withoutPrompts(text: string, { text: { prompts = [] } }: Idiom): string {
  let clean = withoutColours(text);
  for (const prompt of prompts) {
    // a console that is fed quickly prints several prompts in a row
    for (let i = 0; i < 8 && clean.startsWith(prompt); i++) clean = clean.slice(prompt.length);
    if (clean === prompt.trimEnd()) clean = "";
  }
  return clean;
}

/** Takes colours and prompts off a line, and tells noise. */
function cleanLine(text: string, idiom: Idiom): string | undefined {
  const clean = withoutPrompts(text, idiom);
  return idiom.noise.some((pattern) => matchPattern(pattern, clean)) ? undefined : clean;
}

const needsCleaning = (text: string, { noise, text: { prompts = [] } }: Idiom): boolean =>
  noise.length > 0 || prompts.length > 0 || text.includes(ESCAPE);

function cleanLines(lines: readonly SourceLine[], idiom: Idiom): ScannedText["clean"] {
  const clean: { readonly number: number; readonly text: string }[] = [];
  for (const line of lines) {
    const rest = cleanLine(line.text, idiom);
    if (rest !== undefined) clean.push(rest === line.text ? line : { number: line.number, text: rest });
  }
  return clean;
}

/** Whether a text has to be looked at character by character: else each of its lines is a statement as it stands. */
export const scansText = (text: string, idiom: Idiom): boolean => idiom.scans || text.includes(ESCAPE);

/** Reads a text into lines and clauses, in one walk. */
export function scanText(text: string, idiom: Idiom): ScannedText {
  const lines = splitLines(text);
  if (!scansText(text, idiom)) {
    const clauses = lines.map((line): Clause => ({ line: line.number, text: line.text }));
    return { lines, clean: lines, clauses };
  }
  const clean = needsCleaning(text, idiom) ? cleanLines(lines, idiom) : lines;
  return { lines, clean, clauses: scanClauses(clean, idiom) };
}
