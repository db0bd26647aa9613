import type { FieldName, LineMeaning } from "@/core/catalog";
import type { Identity, Spelling } from "@/core/config";
import type { CheckKind, Digits, Encoding } from "@/core/idiom/definition/check";

export type { FieldName, LineMeaning } from "@/core/catalog";

export type RefusalCause = "unknown-name" | "not-here" | "out-of-range" | "garbled" | "unkept" | "full";

export const COMMAND_NAMES = [
  "recite",
  "reciteMoved",
  "reciteActive",
  "declare",
  "sense",
  "forget",
  "starter",
  "keep",
  "restart",
  "loader",
  "quiet",
] as const;
export type CommandName = (typeof COMMAND_NAMES)[number];

/** Which fields of a JSON record say what. */
export interface RecordForm {
  readonly section: string;
  readonly number: string;
  readonly edition?: string;
  readonly values: string;
}

/** A check by its kind alone, in lower-case hex digits; or with how its digits are written. */
export type WrittenCheck = CheckKind | { readonly kind: CheckKind; readonly digits?: Digits };

export interface CommentForm {
  readonly from: string;
  /** Closes it; without it the comment goes to the end of its line. */
  readonly to?: string;
  /** It may hold others of its kind. */
  readonly nested?: boolean;
}

/** How statements stand in a text. Everything is optional: without it each line is one statement. */
export interface TextForm {
  readonly encoding?: Encoding;
  /** A text begins with a byte-order mark. */
  readonly byteOrderMark?: boolean;
  /** How lines end where they are written to a file; read are all of them. */
  readonly lineEnds?: "lf" | "crlf";
  /** Parts several statements on a line. */
  readonly between?: string;
  /** Ends a statement, which may then run over several lines. */
  readonly ends?: string;
  /** At the end of a line: the statement goes on in the next. */
  readonly continues?: string;
  /** A line that begins with a blank goes on from the one before it. */
  readonly folds?: boolean;
  /** Comments anywhere outside quotes. */
  readonly comments?: readonly CommentForm[];
  /** What a console puts before a line. */
  readonly prompts?: readonly string[];
  /** Lines that mean nothing, such as page breaks. */
  readonly noise?: readonly string[];
  /** Each statement, or each line before its comments are taken out, carries a check of the text before the mark. */
  readonly lineCheck?: {
    readonly mark: string;
    readonly kind: CheckKind;
    readonly digits?: Digits;
    readonly of?: "statement" | "line";
    /** Where it stands: behind the text (without this), or before it. */
    readonly at?: "end" | "start";
    /** The mark is part of what the check is made over. */
    readonly withMark?: boolean;
    /** What the check is made over begins behind this, where a line begins with it. */
    readonly after?: string;
    /** Meanings whose lines carry none. */
    readonly without?: readonly LineMeaning[];
  };
  /** Words may be written in any case. */
  readonly anyCase?: boolean;
  /** What lines inside headings that are closed are set in by, for each that is open. */
  readonly indent?: string;
}

/** What a form of a line says without its saying so: fields with their words. */
export type Fixed = Readonly<Partial<Record<FieldName, string>>>;

/** Several values in one: of settings named by key, join and number, counted from `from`; of the profiles, in their order; or pairs of a name and its value. */
export type ListForm =
  | { readonly mark: string; readonly join: string; readonly from?: 0 | 1 }
  | { readonly mark: string; readonly over: "profiles" }
  | { readonly mark: string; readonly pairs: string };

export interface PatternLine {
  readonly means: LineMeaning;
  readonly pattern: string;
  readonly with?: Fixed;
  /** It stands in the text of a comment. */
  readonly inComment?: boolean;
  /** The profile that it goes to is the active one. */
  readonly active?: boolean;
  /** Its `{values...}` are settings of their own, or one setting's in each profile. */
  readonly list?: ListForm;
  /** Lines that stand before each line of this form, and behind it, and say nothing. */
  readonly before?: readonly string[];
  readonly after?: readonly string[];
}

export type WrittenLine = PatternLine | { readonly means: "record"; readonly json: RecordForm };

export const PARTS = ["system", "tables", "profiles", "active"] as const;
export type Part = (typeof PARTS)[number];

export interface RowsForm {
  /** Cells by name, or by the place of their column. */
  readonly cells?: "named" | "placed";
  /** Parts keys and cells; without it blanks do. */
  readonly between?: string;
  /** The last word is a number whose bits, the lowest first, are the switch columns. */
  readonly mask?: boolean;
  /** A cell that is not said is at its default. */
  readonly sparse?: boolean;
  /** Numbers in rows stand without the width, decimals, base and unit of values. */
  readonly plain?: boolean;
  /** Tables have no line that begins them. */
  readonly unopened?: boolean;
}

export interface EndForm {
  readonly check?: WrittenCheck;
  /** Over which text the check is made. */
  readonly over?: "lines" | "statements" | "source";
  /** How each line ends in what the check is made over. */
  readonly lineEnds?: "lf" | "crlf" | "none";
  readonly counts?: "lines" | "statements";
  /** The closing line counts itself. */
  readonly itself?: boolean;
  /** Where it stands: at the foot (without this), or first of all, over what follows it. */
  readonly at?: "foot" | "head";
}

export interface ConsoleForm {
  readonly commands?: Readonly<Partial<Record<CommandName, string>>>;
  readonly replies?: {
    readonly accepted: string;
    readonly adjusted?: string;
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
  /** What a measurement's facts are called. */
  readonly senses?: {
    readonly roll: string;
    readonly pitch: string;
    readonly heading: string;
    readonly receiver: string;
    readonly battery: string;
    /** Of aircraft that carry two. */
    readonly secondBattery?: string;
    readonly sticks: readonly string[];
    /** Other parts by the names that requirements give them: the fact that says “answers” or “silent”. */
    readonly parts?: Readonly<Record<string, string>>;
  };
}

export interface KeysUnder {
  /** Joins what a heading says to the key under it. */
  readonly join: string;
  /** How many of a key's parts stand in the heading; all but the last without this. */
  readonly parts?: number;
}

/** What an idiom document says of a console's language, as it stands in the document. */
export interface IdiomDocument {
  readonly id: string;
  readonly title: string;
  readonly text?: TextForm;
  readonly spelling: Omit<Spelling, "anyCase" | "list"> & {
    /** Flags stand bare: between `open` and `close`, each in quotes, or only with the mark between them. */
    readonly list?: { readonly open?: string; readonly close?: string; readonly quoted?: boolean };
  };
  /** Without one nothing stands in quotes: a value is all that its line has left. */
  readonly quote?: string;
  /** Protects a quote inside a quoted text; the quote itself when it is doubled. */
  readonly escape?: string;
  /** Which values stand in quotes: those that need them, every text, or every value. */
  readonly quoted?: "needed" | "texts" | "all";
  /** What the first profile is called, or each of them. */
  readonly countFrom?: 0 | 1 | "A" | "a" | readonly string[];
  /** Whether settings are written by name or by number. */
  readonly keys?: "name" | "number";
  /** Numbers of settings are filled up with zeros to so many digits; read with or without them. */
  readonly keyWidth?: number;
  /** What keys begin with stands in headings, and is left out under them. */
  readonly keysUnder?: string | KeysUnder;
  readonly facts: Readonly<Partial<Record<keyof Identity, string>>>;
  /** Facts that the language itself says: of every text the same. */
  readonly given?: Identity;
  readonly lines: readonly WrittenLine[];
  readonly rows?: RowsForm;
  readonly recital: {
    readonly cellMark?: string;
    readonly movedWord?: string;
    /** What the fact of the extent says of a read-out of the active profiles only. */
    readonly activeWord?: string;
    /** Stands for the number of a table that begins anew. */
    readonly freshWord?: string;
    /** Section of what exists once; its number is the area. Without it a section named as an area is that. */
    readonly systemSection?: string;
    readonly factsSection?: string;
    readonly sensesSection?: string;
    /** Section that says which profiles are active; without it and without lines that say so, the last ones chosen are. */
    readonly activeSection?: string;
    readonly endSection?: { readonly name: string; readonly lines: string; readonly check?: string };
    readonly end?: EndForm;
    /** In which order the parts of a read-out stand. */
    readonly order?: readonly Part[];
  };
  readonly console?: ConsoleForm;
}
