import { matchPattern } from "@/core/catalog/pattern";
import { checkDigits } from "@/core/idiom/check";
import type { Idiom } from "@/core/idiom/definition";

/** One line of a text: number from 1, without its line end, which is kept beside it. */
export interface SourceLine {
  readonly number: number;
  readonly text: string;
  readonly end: "\n" | "\r\n" | "";
}

/** One statement's text, as it reads when prompts, comments and breaks are taken out. */
export interface Clause {
  /** Line that it begins on. */
  readonly line: number;
  readonly text: string;
  /** What is wrong with the form of it: its check does not fit, a quote or comment was never closed. */
  readonly fault?: string;
}

/** A text in its layers: lines hold every byte; clauses are what the lines say. */
export interface ScannedText {
  readonly lines: readonly SourceLine[];
  /** The lines without prompts; noise is absent. What counts and checks are made over. */
  readonly clean: readonly { readonly number: number; readonly text: string }[];
  readonly clauses: readonly Clause[];
}

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

/** Takes prompts off a line's head, and tells noise. */
function cleanLine(text: string, idiom: Idiom): string | undefined {
  let clean = text;
  for (const prompt of idiom.text.prompts ?? []) {
    // a console that is fed quickly prints several prompts in a row
    for (let i = 0; i < 8 && clean.startsWith(prompt); i++) clean = clean.slice(prompt.length);
    if (clean === prompt.trimEnd()) clean = "";
  }
  return idiom.noise.some((pattern) => matchPattern(pattern, clean)) ? undefined : clean;
}

/** Reads a text into lines and clauses, in one walk. */
export function scanText(text: string, idiom: Idiom): ScannedText {
  const lines = splitLines(text);
  if (!idiom.scans) {
    const clauses = lines.map((line): Clause => ({ line: line.number, text: line.text }));
    return { lines, clean: lines, clauses };
  }
  const clean = lines.flatMap((line) => {
    const rest = cleanLine(line.text, idiom);
    return rest === undefined ? [] : [{ number: line.number, text: rest }];
  });
  return { lines, clean, clauses: scanClauses(clean, idiom) };
}

interface ScanState {
  buffer: string;
  startLine: number;
  quoted: boolean;
  /** Closing mark of the comment that is open. */
  comment: string | undefined;
}

function scanClauses(lines: ScannedText["clean"], idiom: Idiom): Clause[] {
  const { ends, continues } = idiom.text;
  const clauses: Clause[] = [];
  const state: ScanState = { buffer: "", startLine: 0, quoted: false, comment: undefined };
  const flush = (fault?: string) => {
    const text = state.buffer.trim();
    if (text !== "" || fault !== undefined)
      clauses.push(provedClause({ line: state.startLine, text, ...(fault === undefined ? {} : { fault }) }, idiom));
    state.buffer = "";
  };
  for (const line of lines) {
    if (state.buffer.trim() === "") {
      state.buffer = "";
      state.startLine = line.number;
    }
    // what was typed at a prompt is a line of its own, and so is a record
    if (state.buffer === "" && !state.quoted && state.comment === undefined && standsAlone(line.text, idiom)) {
      state.buffer = line.text;
      flush();
      continue;
    }
    scanLine(line, state, idiom, flush);
    if (state.comment !== undefined) continue;
    const open = state.buffer.trimEnd();
    if (continues !== undefined && !state.quoted && open.endsWith(continues))
      state.buffer = open.slice(0, -continues.length);
    else if (ends !== undefined && open.trim() !== "") state.buffer += state.quoted ? "\n" : " ";
    else {
      flush(state.quoted ? "A quote is left open" : undefined);
      state.quoted = false;
    }
    if (state.quoted && state.buffer.length > MAX_OPEN_QUOTE) {
      flush("A quote is left open");
      state.quoted = false;
    }
  }
  if (state.comment !== undefined || state.quoted || state.buffer.trim() !== "")
    flush(
      state.comment !== undefined
        ? "A comment is left open"
        : state.quoted
          ? "A quote is left open"
          : ends === undefined
            ? undefined
            : "The last statement is not ended",
    );
  return clauses;
}

const standsAlone = (text: string, idiom: Idiom) => idiom.record !== undefined || idiom.commandWords.has(text.trim());

/** A quote that was never closed must not swallow the rest of a text. */
const MAX_OPEN_QUOTE = 4000;

function scanLine(
  line: ScannedText["clean"][number],
  state: ScanState,
  idiom: Idiom,
  flush: (fault?: string) => void,
): void {
  const { between, ends, comments = [] } = idiom.text;
  const { quote, escape = "\\" } = idiom;
  const { text } = line;
  for (let at = 0; at < text.length;) {
    if (state.comment !== undefined) {
      const close = text.indexOf(state.comment, at);
      if (close < 0) return;
      at = close + state.comment.length;
      state.comment = undefined;
      continue;
    }
    const c = text.charAt(at);
    if (state.quoted && c === escape && at + 1 < text.length && (escape !== quote || text.charAt(at + 1) === quote)) {
      state.buffer += text.slice(at, at + 2);
      at += 2;
      continue;
    }
    if (c === quote) state.quoted = !state.quoted;
    else if (!state.quoted) {
      const comment = comments.find((form) => text.startsWith(form.from, at));
      if (comment) {
        if (comment.to === undefined) return;
        state.comment = comment.to;
        at += comment.from.length;
        continue;
      }
      const mark = [between, ends].find((part) => part !== undefined && text.startsWith(part, at));
      if (mark !== undefined) {
        flush();
        state.startLine = line.number;
        at += mark.length;
        continue;
      }
    }
    if (state.buffer === "" && c !== " ") state.startLine = line.number;
    state.buffer += c;
    at++;
  }
}

/** Takes the check off a clause and holds it against the text before it. */
function provedClause(clause: Clause, idiom: Idiom): Clause {
  const check = idiom.text.lineCheck;
  if (!check || clause.fault !== undefined) return clause;
  const at = clause.text.lastIndexOf(check.mark);
  if (at < 0) return { ...clause, fault: "The line carries no check" };
  const text = clause.text.slice(0, at);
  const said = clause.text
    .slice(at + check.mark.length)
    .trim()
    .toLowerCase();
  const found = checkDigits(text, check.kind);
  return said === found
    ? { line: clause.line, text }
    : { line: clause.line, text, fault: `The line's check does not fit: it says ${said}, its text gives ${found}` };
}

/** A statement's text as it is written into a line: ended and checked as the idiom wants it. */
export function dressClause(text: string, idiom: Idiom): string {
  const { ends, lineCheck } = idiom.text;
  const checked = lineCheck ? `${text}${lineCheck.mark}${checkDigits(text, lineCheck.kind)}` : text;
  return checked + (ends ?? "");
}
