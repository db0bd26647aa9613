import {
  FACT_FIELDS,
  FIELD_NAMES,
  compilePattern,
  fillPattern,
  headOf,
  innerOf,
  tailOf,
  type CatalogueDocument,
  type Pattern,
} from "@/core/catalog";
import type { Identity, Spelling } from "@/core/config";
import { checkForm, type CheckForm } from "@/core/idiom/definition/check";
import type {
  CommandName,
  ConsoleForm,
  EndForm,
  FieldName,
  Fixed,
  IdiomDocument,
  KeysUnder,
  LineMeaning,
  PatternLine,
  RecordForm,
  RowsForm,
  TextForm,
} from "@/core/idiom/definition/document";
import { ProblemError, type Problem } from "@/core/problem";

export type { CommandName, LineMeaning, RecordForm, RefusalCause } from "@/core/idiom/definition/document";

/** One form of a line, compiled. */
export interface LineForm {
  readonly means: LineMeaning;
  readonly list: PatternLine["list"] | undefined;
  readonly active: boolean;
  readonly pattern: Pattern;
  /** What every line of this form begins with. */
  readonly head: string;
  /** And what it ends with. */
  readonly tail: string;
  /** And what it has in it. */
  readonly inner: string;
  /** Where each field stands among those that the pattern finds; -1 when it has no such field. */
  readonly at: Readonly<Record<FieldName, number>>;
  /** Fields that the form says by itself. */
  readonly fixed: Fixed;
  /** A key and one value, and nothing else: most lines of most texts. */
  readonly plain: boolean;
  /** Facts that it names itself. */
  readonly facts: readonly (typeof FACT_FIELDS)[number][];
  /** Something in it is passed over, so nobody can say what to write there. */
  readonly mute: boolean;
  /** Lines around it that say nothing. */
  readonly before: readonly string[];
  readonly after: readonly string[];
}

/** Whether a form says a field, in its pattern or by itself. */
export const says = ({ at, fixed }: Pick<LineForm, "at" | "fixed">, field: FieldName): boolean =>
  at[field] >= 0 || fixed[field] !== undefined;

type Replies = Required<NonNullable<ConsoleForm["replies"]>>;
type SenseNames = NonNullable<ConsoleForm["senses"]>;

/** An idiom document with its patterns compiled. */
export interface Idiom extends Omit<
  IdiomDocument,
  "lines" | "text" | "spelling" | "console" | "rows" | "recital" | "keysUnder" | "quote"
> {
  /** What encloses texts with blanks or marks; a character that no text holds where nothing does. */
  readonly quote: string;
  readonly keysUnder?: KeysUnder;
  /** Headings are closed. */
  readonly leaves: boolean;
  /** Rows or cells stand under a heading without the name of their table. */
  readonly rowsUnder: boolean;
  readonly recital: Omit<IdiomDocument["recital"], "end"> & {
    readonly end?: Omit<EndForm, "check"> & { readonly check?: CheckForm };
  };
  readonly spelling: Spelling;
  /** How keys and cells of rows are spelled. */
  readonly rowSpelling: Spelling;
  readonly rows: RowsForm;
  readonly text: Omit<TextForm, "noise" | "lineCheck"> & {
    readonly lineCheck?: NonNullable<TextForm["lineCheck"]> & CheckForm;
  };
  readonly console: {
    readonly replies: Pick<Replies, "causes">;
    readonly intake: ConsoleForm["intake"];
    readonly senses: SenseNames;
  };
  readonly noise: readonly Pattern[];
  /** False when each line is one statement, as it stands. */
  readonly scans: boolean;
  readonly lines: readonly LineForm[];
  /** Forms that stand in the text of comments. */
  readonly linesInComments: readonly LineForm[];
  /** The forms that a line can have by its first character, and those for every other character; in the order of `lines`. */
  readonly linesByStart: ReadonlyMap<string, readonly LineForm[]>;
  readonly linesOfAnyStart: readonly LineForm[];
  /** Lines around others that say nothing, without the blanks at their ends. */
  readonly silent: ReadonlySet<string>;
  readonly record: RecordForm | undefined;
  readonly style: "statement" | "section" | "record";
  /** Facts of the identity by what a text calls them. */
  readonly factFields: ReadonlyMap<string, keyof Identity>;
  /** What the fact is called that a read-out begins with; absent where the language says nothing of what it comes from. */
  readonly beginsWith: string | undefined;
  /** Something says which profile is active; without it the last one chosen is. */
  readonly tellsActive: boolean;
  /** Flags are said one by one; `both`: those that are not set as well. */
  readonly members: "none" | "raised" | "both";
  readonly replies: {
    readonly accepted: Pattern;
    readonly adjusted: Pattern;
    readonly refused: Pattern;
    readonly taken: Pattern | undefined;
    readonly refusedLine: Pattern | undefined;
  };
  /** It answers: its document says how. */
  readonly answers: boolean;
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

function lineForm(written: PatternLine, pattern: Pattern): LineForm {
  const { means, list, active = false, with: fixed = {}, before = [], after = [] } = written;
  const at = Object.fromEntries(FIELD_NAMES.map((name) => [name, pattern.fields.indexOf(name)])) as LineForm["at"];
  const isSaid = (field: FieldName) => says({ at, fixed }, field);
  return {
    means,
    list,
    active,
    pattern,
    head: headOf(pattern),
    tail: tailOf(pattern),
    inner: innerOf(pattern),
    at,
    fixed,
    plain: means === "set" && list === undefined && at.key >= 0 && at.value >= 0 && !isSaid("number"),
    facts: means === "fact" ? FACT_FIELDS.filter(isSaid) : [],
    mute: pattern.fields.some((name) => name.startsWith("text")),
    before,
    after,
  };
}

/** What a fact is called where a pattern names the field itself; no text can say so. */
export const ownName = (field: string): string => `\0${field}`;

function factsOf({ facts }: Pick<IdiomDocument, "facts">, lines: readonly LineForm[]): Idiom["factFields"] {
  const named = Object.entries(facts).map(([field, name]) => [name, field as keyof Identity] as const);
  const direct = lines.flatMap((form) => form.facts).map((field) => [ownName(field), field] as const);
  return new Map([...named, ...direct]);
}

const NOTHING = "\0";
/** Texts hold no control characters. */
export const NO_QUOTE = "\0";
const SENSES: SenseNames = { roll: "", pitch: "", heading: "", receiver: "", battery: "", sticks: ["", "", "", ""] };

function compileConsole(form: ConsoleForm, compile: (source: string) => Pattern) {
  const { commands = {}, replies, intake, senses = SENSES } = form;
  const { starter, ...plain } = commands;
  const words = Object.fromEntries(
    Object.entries(plain).map(([name, source]) => [name, fillPattern(compilePattern(source), {})]),
  );
  return {
    console: { replies: { causes: replies?.causes ?? {} }, intake, senses },
    replies: {
      accepted: compile(replies?.accepted ?? NOTHING),
      adjusted: compile(replies?.adjusted ?? NOTHING),
      refused: compile(replies?.refused ?? NOTHING),
      taken: intake && compile(intake.taken),
      refusedLine: intake && compile(intake.refusedLine),
    },
    answers: replies !== undefined,
    words,
    starter: starter === undefined ? undefined : compile(starter),
    commandWords: new Set([...Object.values(words), ...(intake ? [intake.open, intake.close] : [])]),
  };
}

/** Numbers in rows, where these are not spelled as values are: plain. */
function plainSpelling({ decimalMark, on, off, listMark, list, empty, anyCase }: Spelling): Spelling {
  return {
    ...{ decimalMark, on, off, listMark, empty },
    ...(list === undefined ? {} : { list }),
    ...(anyCase === undefined ? {} : { anyCase }),
  };
}

function compileIdiom(document: IdiomDocument): Idiom {
  const { text: form = {}, recital, rows = {}, console: consoleForm = {}, keysUnder, ...plain } = document;
  const quote = document.quote ?? NO_QUOTE;
  const { noise = [], lineCheck, ...text } = form;
  const anyCase = text.anyCase ?? false;
  const compile = (source: string, mayBeEmpty = false) => compilePattern(source, anyCase, mayBeEmpty);
  // nothing stands for an empty text: then a value's line may end with its mark
  const mayBeEmpty = ({ means }: PatternLine) =>
    document.spelling.empty === "" && (means === "set" || means === "cell");
  const written = document.lines.flatMap((line) => ("pattern" in line ? [line] : []));
  const formsOf = (inComment: boolean) =>
    written
      .filter((line) => (line.inComment ?? false) === inComment)
      .map((line) => lineForm(line, compile(line.pattern, mayBeEmpty(line))));
  const [lines, linesInComments] = [formsOf(false), formsOf(true)];
  const forms = [...lines, ...linesInComments];
  const around = new Set(forms.flatMap(({ before, after }) => [...before, ...after].map((line) => line.trim())));
  const silent = [...around].flatMap((line) => {
    const pattern = line.replaceAll("{", "{{").replaceAll("}", "}}");
    return pattern === "" ? [] : [lineForm({ means: "comment", pattern }, compile(pattern))];
  });
  const startOf = (line: LineForm) => line.head.charAt(0);
  // what stands as it is written is known by every letter: it is looked for first
  const read = [...silent, ...lines];
  const starts = new Set(read.map(startOf));
  const startingWith = (start: string) => read.filter((line) => ["", start].includes(startOf(line)));
  const record = document.lines.find((line) => "json" in line)?.json;
  const { between, ends, continues, folds, comments, prompts } = text;
  const { end, ...said } = recital;
  const { check, ...closing } = end ?? {};
  const { list, ...spelled } = document.spelling;
  const flags = list && {
    open: list.open ?? "",
    close: list.close ?? "",
    quote: list.quoted === true ? quote : "",
  };
  const spelling = { ...spelled, ...(flags ? { list: flags } : {}), anyCase };
  const factFields = factsOf(document, forms);
  const means = new Set(forms.map((each) => each.means));
  const begins = (["family", "release", "target", "builtOn"] as const).find(
    (field) => document.given?.[field] === undefined && [...factFields.values()].includes(field),
  );
  return {
    ...plain,
    quote,
    silent: around,
    ...(keysUnder === undefined ? {} : { keysUnder: typeof keysUnder === "string" ? { join: keysUnder } : keysUnder }),
    leaves: means.has("leave"),
    rowsUnder: forms.some((each) => (each.means === "row" || each.means === "cell") && !says(each, "table")),
    recital: {
      ...said,
      ...(end ? { end: { ...closing, ...(check === undefined ? {} : { check: checkForm(check) }) } } : {}),
    },
    spelling,
    rowSpelling: rows.plain === true ? plainSpelling(spelling) : spelling,
    rows,
    text: { ...text, ...(lineCheck ? { lineCheck: { ...lineCheck, ...checkForm(lineCheck) } } : {}) },
    noise: noise.map((source) => compile(source)),
    scans:
      [between, ends, continues, folds, comments, prompts, lineCheck].some((part) => part !== undefined) ||
      noise.length > 0,
    lines,
    linesInComments,
    linesByStart: new Map([...starts].map((start) => [start, startingWith(start)])),
    linesOfAnyStart: startingWith(""),
    record,
    style: record ? "record" : means.has("section") && !means.has("select") ? "section" : "statement",
    factFields,
    beginsWith: begins && [...factFields].find(([, field]) => field === begins)?.[0],
    tellsActive: said.activeSection !== undefined || means.has("activate") || forms.some((each) => each.active),
    members: means.has("lower") ? "both" : means.has("raise") ? "raised" : "none",
    ...compileConsole(consoleForm, compile),
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

/** Settings, profiles and rows that cannot be written in a language that can be read: what its lines lack, in words. */
export function unwritable(idiom: Idiom): string[] {
  if (idiom.record) return [];
  const forms = idiom.lines.filter(({ mute }) => !mute);
  const has = (means: LineMeaning) => forms.some((line) => line.means === means);
  const sections = has("section");
  const places =
    has("select") ||
    sections ||
    forms.some((line) => line.means === "set" && (says(line, "number") || (line.list && "over" in line.list)));
  // a form that is there, and not to be written
  const why = (means: LineMeaning) =>
    idiom.lines.some((line) => line.means === means && line.mute) ? ": nothing says what stands for {text}" : "";
  return [
    ...(has("set") ? [] : [`“set” lines, for values${why("set")}`]),
    ...(places ? [] : ["“select” lines, for profiles (or “section”, or a “set” with {number})"]),
    ...(has("row") || has("cell") || sections ? [] : [`“row” lines, for tables (or “section”)${why("row")}`]),
    ...(has("clear") || sections || idiom.rows.unopened === true
      ? []
      : ["“clear” lines, where a table begins (or rows.unopened)"]),
  ];
}

/** What an idiom lacks to do a piece of work; asked before anything is changed. */
export function lackOf(idiom: Idiom, names: readonly CommandName[]): Problem | undefined {
  const name = names.find((each) => each !== "starter" && idiom.words[each] === undefined);
  if (name !== undefined) return wordMissing(idiom, name);
  if (names.length > 0 && !idiom.answers)
    return {
      code: "idiom-replies",
      message: `The ${idiom.title.toLowerCase()} does not say how its console answers`,
      detail: `Document ${idiom.id}, console.replies`,
      hint: "It is good for reading files; write its answers down in the idiom workshop to work with a board",
    };
  const [form] = unwritable(idiom);
  return form === undefined
    ? undefined
    : {
        code: "idiom-form",
        message: `The ${idiom.title.toLowerCase()} has no form for ${form}`,
        detail: `Document ${idiom.id}, lines`,
        hint: "Write it down in the idiom workshop, stop this job and order it anew: a job keeps to what it began with",
      };
}
