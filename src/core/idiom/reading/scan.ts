import type { Clause } from "@/core/idiom/definition/clause";
import { prove } from "@/core/idiom/definition/clause-check";
import type { Idiom } from "@/core/idiom/definition/definition";

/** What is made field by field, where spreading objects into each other would be slow. */
export type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** A line without prompts and colours. */
interface CleanLine {
  readonly number: number;
  readonly text: string;
}

interface OpenComment {
  readonly from: string;
  readonly to: string;
  readonly nested: boolean;
  /** How many of them are open in one another. */
  depth: number;
  text: string;
  readonly line: number;
}

interface ScanState {
  buffer: string;
  startLine: number;
  quoted: boolean;
  comment: OpenComment | undefined;
  /** What is wrong with a line that the statement stands on. */
  fault: string | undefined;
  unchecked: boolean;
}

/** No line of a read-out is longer, and so is no statement that runs over several. */
const MAX_OPEN_STATEMENT = 8000;
/** A quote that was never closed must not swallow the rest of a text. */
const MAX_OPEN_QUOTE = 4000;

const standsAlone = (text: string, idiom: Idiom) => idiom.record !== undefined || idiom.commandWords.has(text.trim());

/** Statements out of lines: comments taken out, several on a line parted, those over several lines joined. */
export function scanClauses(lines: readonly CleanLine[], idiom: Idiom): Clause[] {
  return new Scanner(idiom).scan(lines);
}

class Scanner {
  private readonly clauses: Clause[] = [];
  private readonly state: ScanState = {
    buffer: "",
    startLine: 0,
    quoted: false,
    comment: undefined,
    fault: undefined,
    unchecked: false,
  };

  /** First characters of whatever means something here, by their codes; beyond ASCII all together. */
  private readonly telling = new Uint8Array(129);

  /** What a check stands on, if on anything. */
  private readonly checked: "line" | "statement" | undefined;
  /** A line can be a statement by itself: nothing ends statements but the line's own end, or a mark that says it goes on. */
  private readonly plain: boolean;

  constructor(private readonly idiom: Idiom) {
    const { between, ends, folds, lineCheck, comments = [] } = idiom.text;
    this.checked = lineCheck && (lineCheck.of ?? "statement");
    this.plain = ends === undefined && folds !== true && this.checked !== "line";
    for (const mark of [idiom.quote, idiom.escape ?? "\\", between, ends, ...comments.map(({ from }) => from)])
      if (mark !== undefined && mark !== "") this.telling[Math.min(mark.charCodeAt(0), 128)] = 1;
  }

  /** Where the next character stands that may mean something. */
  private nextTelling(text: string, from: number): number {
    let at = from;
    while (at < text.length && this.telling[Math.min(text.charCodeAt(at), 128)] === 0) at++;
    return at;
  }

  scan(lines: readonly CleanLine[]): Clause[] {
    const { state } = this;
    for (const [i, line] of lines.entries()) {
      if (state.buffer.trim() === "") {
        state.buffer = "";
        state.startLine = line.number;
      }
      if (this.isPlain(line.text)) {
        this.push(line.number, line.text.trim(), undefined, false);
        continue;
      }
      // what was typed at a prompt is a line of its own, and so is a record
      if (state.buffer === "" && !state.quoted && state.comment === undefined && standsAlone(line.text, this.idiom)) {
        state.buffer = line.text;
        this.flush();
        continue;
      }
      let { text } = line;
      if (this.checked === "line") {
        const proved = prove(text, this.idiom);
        state.fault ??= proved?.fault;
        state.unchecked ||= proved === undefined;
        text = proved?.text ?? text;
      }
      this.line(line.number, text);
      if (state.comment === undefined) this.endLine(this.goesOn(lines[i + 1]));
    }
    this.close();
    return this.clauses;
  }

  private flush(wrong?: string): void {
    const { state } = this;
    const fault = state.fault ?? wrong;
    this.push(state.startLine, state.buffer.trim(), fault, state.unchecked);
    state.buffer = "";
    state.fault = undefined;
    state.unchecked = false;
  }

  /** Whether a line is a statement as it stands: nothing is open, and no character in it means anything to the walk. */
  private isPlain(text: string): boolean {
    const { buffer, quoted, comment } = this.state;
    if (!this.plain || buffer !== "" || quoted || comment !== undefined) return false;
    const { continues } = this.idiom.text;
    return (
      this.nextTelling(text, 0) === text.length && (continues === undefined || !text.trimEnd().endsWith(continues))
    );
  }

  private push(line: number, text: string, fault: string | undefined, unchecked: boolean): void {
    if (text === "" && fault === undefined) return;
    const clause: Writable<Clause> = { line, text };
    if (fault !== undefined) clause.fault = fault;
    else if (this.checked === "statement") {
      const proved = prove(text, this.idiom);
      if (proved) clause.text = proved.text;
      if (proved?.fault !== undefined) clause.fault = proved.fault;
      if (!proved) clause.unchecked = true;
    }
    if (unchecked) clause.unchecked = true;
    this.clauses.push(clause);
  }

  /** Whether the next line belongs to the one before it. */
  private goesOn(next: CleanLine | undefined): boolean {
    return this.idiom.text.folds === true && next !== undefined && /^[ \t]+\S/.test(next.text);
  }

  private endLine(folded: boolean): void {
    const { state } = this;
    const { ends, continues } = this.idiom.text;
    const open = state.buffer.trimEnd();
    if (folded && !state.quoted) state.buffer = `${open} `;
    else if (continues !== undefined && !state.quoted && open.endsWith(continues))
      state.buffer = open.slice(0, -continues.length);
    else if (ends !== undefined && open.trim() !== "") state.buffer += state.quoted ? "\n" : " ";
    else {
      this.flush(state.quoted ? "A quote is left open" : undefined);
      state.quoted = false;
    }
    if (state.buffer.length > MAX_OPEN_STATEMENT) {
      this.flush("The statement does not end");
      state.quoted = false;
    }
    if (state.quoted && state.buffer.length > MAX_OPEN_QUOTE) {
      this.flush("A quote is left open");
      state.quoted = false;
    }
  }

  private close(): void {
    const { state } = this;
    if (state.comment === undefined && !state.quoted && state.buffer.trim() === "") return;
    this.flush(
      state.comment !== undefined
        ? "A comment is left open"
        : state.quoted
          ? "A quote is left open"
          : this.idiom.text.ends === undefined
            ? undefined
            : "The last statement is not ended",
    );
  }

  /** What a comment says, where the language has lines that stand in comments. */
  private say(text: string, line: number): void {
    if (this.idiom.linesInComments.length > 0 && text.trim() !== "")
      this.clauses.push({ line, text: text.trim(), comment: true });
  }

  /** Goes on inside a comment; where it ends, or -1 when the line does not close it. */
  private within(comment: OpenComment, text: string, at: number): number {
    for (let from = at; ;) {
      const close = text.indexOf(comment.to, from);
      const inner = comment.nested ? text.indexOf(comment.from, from) : -1;
      if (inner >= 0 && (close < 0 || inner < close)) {
        comment.depth++;
        from = inner + comment.from.length;
        continue;
      }
      if (close < 0) {
        comment.text += `${text.slice(at)}\n`;
        return -1;
      }
      from = close + comment.to.length;
      if (--comment.depth > 0) continue;
      comment.text += text.slice(at, close);
      this.state.comment = undefined;
      this.say(comment.text, comment.line);
      return from;
    }
  }

  private line(number: number, text: string): void {
    const { between, ends, comments = [] } = this.idiom.text;
    const { quote, escape = "\\" } = this.idiom;
    const { state } = this;
    for (let at = 0; at < text.length;) {
      if (state.comment !== undefined) {
        at = this.within(state.comment, text, at);
        if (at < 0) return;
        continue;
      }
      const plain = this.nextTelling(text, at);
      if (plain > at) {
        if (state.buffer === "" && text.charAt(at) !== " ") state.startLine = number;
        state.buffer += text.slice(at, plain);
        at = plain;
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
          at += comment.from.length;
          if (comment.to === undefined) {
            this.say(text.slice(at), number);
            return;
          }
          const { from, to, nested = false } = comment;
          state.comment = { from, to, nested, depth: 1, text: "", line: number };
          continue;
        }
        const mark = [between, ends].find((part) => part !== undefined && text.startsWith(part, at));
        if (mark !== undefined) {
          this.flush();
          state.startLine = number;
          at += mark.length;
          continue;
        }
      }
      if (state.buffer === "" && c !== " ") state.startLine = number;
      state.buffer += c;
      at++;
    }
  }
}
