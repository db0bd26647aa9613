import { type Idiom, type LineMeaning } from "@/core/idiom/definition";
import { fillPattern, matchPattern } from "@/core/catalog/pattern";

/** One line of a text: number from 1, without its line end, which is kept beside it. */
export interface SourceLine {
  readonly number: number;
  readonly text: string;
  readonly end: "\n" | "\r\n" | "";
}

/** What one line means, before any release is known. Values are as written, quotes taken off. */
export type Statement =
  | { readonly kind: "fact"; readonly name: string; readonly value: string }
  | { readonly kind: "end"; readonly lines: number; readonly check: string }
  | { readonly kind: "set"; readonly key: string; readonly value: string }
  | {
      readonly kind: "row";
      readonly table: string;
      readonly keys: readonly string[];
      readonly cells: Readonly<Record<string, string>>;
    }
  | { readonly kind: "select"; readonly profile: string; readonly number: number }
  | { readonly kind: "clear"; readonly table: string }
  | { readonly kind: "comment" }
  | { readonly kind: "answer" }
  | { readonly kind: "blank" }
  | { readonly kind: "foreign" };

/** Splits without losing a byte: the lines' texts and ends joined give the text again. */
export function splitLines(text: string): SourceLine[] {
  const lines: SourceLine[] = [];
  let at = 0;
  while (at < text.length) {
    const feed = text.indexOf("\n", at);
    const stop = feed < 0 ? text.length : feed;
    const crlf = feed > at && text.charAt(feed - 1) === "\r";
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
export function splitWords(text: string, quote: string): string[] | undefined {
  const words: string[] = [];
  let word: string | undefined;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charAt(i);
    if (quoted && c === "\\" && i + 1 < text.length) word = (word ?? "") + text.charAt(++i);
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

/** A word as it must be written: in quotes when it is empty or holds a blank, a quote or a backslash. */
export function quoteWord(word: string, quote: string): string {
  if (word !== "" && !word.includes(" ") && !word.includes(quote) && !word.includes("\\")) return word;
  return quote + word.replaceAll("\\", "\\\\").replaceAll(quote, `\\${quote}`) + quote;
}

const isCount = (text: string | undefined): text is string =>
  text !== undefined && text.length <= 9 && /^\d+$/.test(text);

function build(means: LineMeaning, fields: Record<string, string>, idiom: Idiom): Statement | undefined {
  const field = (name: string) => fields[name] ?? "";
  switch (means) {
    case "fact":
      return { kind: "fact", name: field("name"), value: field("value") };
    case "end":
      return isCount(fields.lines) ? { kind: "end", lines: Number(fields.lines), check: field("check") } : undefined;
    case "set": {
      const words = splitWords(field("value"), idiom.quote);
      return words?.length === 1 ? { kind: "set", key: field("key"), value: words[0] ?? "" } : undefined;
    }
    case "row": {
      const words = splitWords(field("cells"), idiom.quote);
      if (!words) return undefined;
      const mark = idiom.recital.cellMark;
      const firstCell = words.findIndex((word) => word.includes(mark));
      const keys = firstCell < 0 ? words : words.slice(0, firstCell);
      const cells: Record<string, string> = {};
      for (const word of firstCell < 0 ? [] : words.slice(firstCell)) {
        const at = word.indexOf(mark);
        if (at <= 0) return undefined;
        cells[word.slice(0, at)] = word.slice(at + mark.length);
      }
      return { kind: "row", table: field("table"), keys, cells };
    }
    case "select":
      return isCount(fields.number)
        ? { kind: "select", profile: field("profile"), number: Number(fields.number) }
        : undefined;
    case "clear":
      return { kind: "clear", table: field("table") };
    case "comment":
      return { kind: "comment" };
    case "answer":
      return { kind: "answer" };
  }
}

/** What a line means in this idiom. What fits no pattern is foreign. */
export function readStatement(text: string, idiom: Idiom): Statement {
  if (text.trim() === "") return { kind: "blank" };
  for (const line of idiom.lines) {
    const fields = matchPattern(line.pattern, text);
    const statement = fields && build(line.means, fields, idiom);
    if (statement) return statement;
  }
  return { kind: "foreign" };
}

/** A statement as the idiom writes it, without line end. */
export function writeStatement(statement: Statement, idiom: Idiom): string {
  const pattern = idiom.lines.find((line) => line.means === statement.kind)?.pattern;
  if (!pattern) throw new Error(`the idiom ${idiom.id} cannot write a ${statement.kind} line`);
  const quoted = (word: string) => quoteWord(word, idiom.quote);
  switch (statement.kind) {
    case "fact":
      return fillPattern(pattern, { name: statement.name, value: statement.value });
    case "end":
      return fillPattern(pattern, { lines: statement.lines, check: statement.check });
    case "set":
      return fillPattern(pattern, { key: statement.key, value: quoted(statement.value) });
    case "row": {
      const mark = idiom.recital.cellMark;
      const words = [
        ...statement.keys.map(quoted),
        ...Object.entries(statement.cells).map(([c, v]) => quoted(`${c}${mark}${v}`)),
      ];
      return fillPattern(pattern, { table: statement.table, cells: words.join(" ") });
    }
    case "select":
      return fillPattern(pattern, { profile: statement.profile, number: statement.number });
    case "clear":
      return fillPattern(pattern, { table: statement.table });
    case "comment":
    case "answer":
    case "blank":
    case "foreign":
      throw new Error(`a ${statement.kind} line has no written form of its own`);
  }
}
