import type { CatalogueDocument } from "@/core/catalog";
import type { Identity, Spelling } from "@/core/config";
import { compilePattern, fillPattern, headOf, type Pattern } from "@/core/catalog/pattern";
import type { CheckKind } from "@/core/idiom/check";
import { ProblemError, type Problem } from "@/core/problem";

export type LineMeaning = "fact" | "end" | "set" | "row" | "select" | "clear" | "section" | "comment" | "answer";
export type RefusalCause = "unknown-name" | "not-here" | "out-of-range" | "garbled" | "unkept" | "full";
export type CommandName =
  | "recite"
  | "reciteMoved"
  | "reciteActive"
  | "declare"
  | "sense"
  | "forget"
  | "starter"
  | "keep"
  | "restart"
  | "loader"
  | "quiet";

/** Which fields of a JSON record say what. */
export interface RecordForm {
  readonly section: string;
  readonly number: string;
  readonly edition?: string;
  readonly values: string;
}

/** How statements stand in a text. Everything is optional: without it each line is one statement. */
export interface TextForm {
  /** Parts several statements on a line. */
  readonly between?: string;
  /** Ends a statement, which may then run over several lines. */
  readonly ends?: string;
  /** At the end of a line: the statement goes on in the next. */
  readonly continues?: string;
  /** Comments anywhere outside quotes: to the end of the line, or to a closing mark. */
  readonly comments?: readonly { readonly from: string; readonly to?: string }[];
  /** What a console puts before a line. */
  readonly prompts?: readonly string[];
  /** Lines that mean nothing, such as page breaks. */
  readonly noise?: readonly string[];
  /** Each statement carries a check of the text before the mark. */
  readonly lineCheck?: { readonly mark: string; readonly kind: CheckKind };
  /** Words may be written in any case. */
  readonly anyCase?: boolean;
}

/** What an idiom document says of the console's words, as it stands in the document. */
interface IdiomDocument {
  readonly id: string;
  readonly title: string;
  readonly text?: TextForm;
  readonly spelling: Omit<Spelling, "anyCase">;
  readonly quote: string;
  /** Protects a quote inside a quoted text; the quote itself when it is doubled. */
  readonly escape?: string;
  /** Number of the first profile. */
  readonly countFrom?: 0 | 1;
  /** Whether settings are written by name or by number. */
  readonly keys?: "name" | "number";
  readonly facts: Readonly<Partial<Record<keyof Identity, string>>>;
  readonly lines: readonly (
    { readonly means: LineMeaning; readonly pattern: string } | { readonly means: "record"; readonly json: RecordForm }
  )[];
  readonly recital: {
    readonly cellMark?: string;
    readonly movedWord: string;
    /** Stands for the number of a table that begins anew. */
    readonly freshWord?: string;
    /** Section of what exists once; its number is the area. */
    readonly systemSection?: string;
    readonly factsSection?: string;
    readonly sensesSection?: string;
    /** Section that says which profiles are active; without it the last ones chosen are. */
    readonly activeSection?: string;
    readonly endSection?: { readonly name: string; readonly lines: string; readonly check?: string };
    readonly end?: { readonly check?: CheckKind };
  };
  readonly console: {
    readonly commands: Readonly<Partial<Record<CommandName, string>>>;
    readonly replies: {
      readonly accepted: string;
      readonly adjusted: string;
      readonly refused: string;
      readonly causes: Readonly<Record<string, RefusalCause>>;
    };
    /** Values are taken in between two words; the answer to the closing one lists the lines that were refused. */
    readonly intake?: {
      readonly open: string;
      readonly close: string;
      readonly doubled?: string;
      readonly taken: string;
      readonly refusedLine: string;
    };
    readonly senses: {
      readonly roll: string;
      readonly pitch: string;
      readonly heading: string;
      readonly receiver: string;
      readonly battery: string;
      readonly sticks: readonly string[];
      /** Other parts by the names that requirements give them: the fact that says “answers” or “silent”. */
      readonly parts?: Readonly<Record<string, string>>;
    };
  };
}

/** One form of a line, compiled. */
export interface LineForm {
  readonly means: LineMeaning;
  readonly pattern: Pattern;
  /** What every line of this form begins with. */
  readonly head: string;
  /** Where each field stands among those that the pattern finds; -1 when it has no such field. */
  readonly at: Readonly<Record<FieldName, number>>;
}

const FIELD_NAMES = [
  "name",
  "key",
  "value",
  "lines",
  "check",
  "table",
  "cells",
  "profile",
  "number",
  "section",
] as const;
type FieldName = (typeof FIELD_NAMES)[number];

/** An idiom document with its patterns compiled. */
export interface Idiom extends Omit<IdiomDocument, "lines" | "text" | "spelling"> {
  readonly spelling: Spelling;
  readonly text: Omit<TextForm, "noise">;
  readonly noise: readonly Pattern[];
  /** False when each line is one statement, as it stands. */
  readonly scans: boolean;
  readonly lines: readonly LineForm[];
  /** The forms that a line can have by its first character, and those for every other character; in the order of `lines`. */
  readonly linesByStart: ReadonlyMap<string, readonly LineForm[]>;
  readonly linesOfAnyStart: readonly LineForm[];
  readonly record: RecordForm | undefined;
  readonly style: "statement" | "section" | "record";
  readonly replies: {
    readonly accepted: Pattern;
    readonly adjusted: Pattern;
    readonly refused: Pattern;
    readonly taken: Pattern | undefined;
    readonly refusedLine: Pattern | undefined;
  };
  /** The lines of the commands that take no fields. */
  readonly words: Readonly<Partial<Record<CommandName, string>>>;
  readonly starter: Pattern | undefined;
  readonly commandWords: ReadonlySet<string>;
}

const compiled = new WeakMap<CatalogueDocument, Idiom>();

/** The idiom of a document that the schema has accepted; compiled once for each document. */
export function idiomOf(checked: CatalogueDocument): Idiom {
  let idiom = compiled.get(checked);
  if (!idiom) {
    idiom = compileIdiom(checked as unknown as IdiomDocument);
    compiled.set(checked, idiom);
  }
  return idiom;
}

const lineForm = (means: LineMeaning, pattern: Pattern): LineForm => ({
  means,
  pattern,
  head: headOf(pattern),
  at: Object.fromEntries(FIELD_NAMES.map((name) => [name, pattern.fields.indexOf(name)])) as LineForm["at"],
});

function compileIdiom(document: IdiomDocument): Idiom {
  const { text: form = {}, ...plain } = document;
  const { noise = [], ...text } = form;
  const anyCase = text.anyCase ?? false;
  const compile = (source: string) => compilePattern(source, anyCase);
  const { accepted, adjusted, refused } = document.console.replies;
  const { intake } = document.console;
  const lines = document.lines.flatMap((line) =>
    "pattern" in line ? [lineForm(line.means, compile(line.pattern))] : [],
  );
  const { starter, ...commands } = document.console.commands;
  const words = Object.fromEntries(
    Object.entries(commands).map(([name, source]) => [name, fillPattern(compilePattern(source), {})]),
  );
  // in any case of letters a head says nothing about the first character
  const startOf = (line: LineForm) => (anyCase ? "" : line.head.charAt(0));
  const starts = new Set(lines.map(startOf));
  const startingWith = (start: string) => lines.filter((line) => ["", start].includes(startOf(line)));
  const record = document.lines.find((line) => "json" in line)?.json;
  const { between, ends, continues, comments, prompts, lineCheck } = text;
  return {
    ...plain,
    spelling: { ...document.spelling, anyCase },
    text,
    noise: noise.map(compile),
    scans:
      [between, ends, continues, comments, prompts, lineCheck].some((part) => part !== undefined) || noise.length > 0,
    lines,
    linesByStart: new Map([...starts].map((start) => [start, startingWith(start)])),
    linesOfAnyStart: startingWith(""),
    record,
    style: record ? "record" : lines.some((line) => line.means === "section") ? "section" : "statement",
    replies: {
      accepted: compile(accepted),
      adjusted: compile(adjusted),
      refused: compile(refused),
      taken: intake && compile(intake.taken),
      refusedLine: intake && compile(intake.refusedLine),
    },
    words,
    starter: starter === undefined ? undefined : compile(starter),
    commandWords: new Set([...Object.values(words), ...(intake ? [intake.open, intake.close] : [])]),
  };
}

/** The console line of a command, or undefined when the idiom has none. */
export function commandLine(idiom: Idiom, name: CommandName, fields: Record<string, string> = {}): string | undefined {
  if (name !== "starter") return idiom.words[name];
  return idiom.starter && fillPattern(idiom.starter, fields);
}

export function requireCommand(idiom: Idiom, name: CommandName, fields: Record<string, string> = {}): string {
  const line = commandLine(idiom, name, fields);
  if (line === undefined) throw new ProblemError(wordMissing(idiom, name));
  return line;
}

const wordMissing = (idiom: Pick<Idiom, "id" | "title">, name: CommandName): Problem => ({
  code: "idiom-word",
  message: `The ${idiom.title.toLowerCase()} has no word for “${name}”`,
  detail: `Document ${idiom.id}, console.commands`,
  hint: "Write the word down in the idiom workshop, stop this job and order it anew: a job keeps to what it began with",
});

/** What an idiom lacks to do a piece of work; asked before anything is changed. */
export function lackOf(idiom: Idiom, names: readonly CommandName[]): Problem | undefined {
  const name = names.find((each) => each !== "starter" && idiom.words[each] === undefined);
  if (name !== undefined) return wordMissing(idiom, name);
  const means = new Set(idiom.lines.map((line) => line.means));
  const form =
    idiom.style === "statement" ? (["set", "row", "select", "clear"] as const).find((m) => !means.has(m)) : undefined;
  return form === undefined
    ? undefined
    : {
        code: "idiom-form",
        message: `The ${idiom.title.toLowerCase()} has no form for “${form}” lines`,
        detail: `Document ${idiom.id}, lines`,
        hint: "Write it down in the idiom workshop, stop this job and order it anew: a job keeps to what it began with",
      };
}
