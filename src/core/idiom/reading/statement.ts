import type { Clause, ScannedText } from "@/core/idiom/definition/clause";
import type { Idiom } from "@/core/idiom/definition/definition";

/** The profile that a line names for its own value; without its kind that of the setting's. */
export interface InlinePlace {
  readonly profile?: string;
  readonly number: number;
}

/** The headings that a line stands under. */
export interface Under {
  /** What its key may begin with: the likeliest first. */
  readonly beginnings: readonly string[];
  /** What the headings say that name no place; empty where there are none. */
  readonly head: string;
}

/** What a clause means, before any release is known. Values are as written, quotes taken off. */
export type Statement =
  | { readonly kind: "fact"; readonly name: string; readonly value: string }
  | { readonly kind: "end"; readonly lines?: number; readonly check?: string }
  | {
      readonly kind: "set";
      readonly key: string;
      readonly value: string;
      readonly place?: InlinePlace;
      readonly under?: Under;
    }
  /** One flag of a set of them. */
  | {
      readonly kind: "member";
      readonly key: string;
      readonly member: string;
      readonly on: boolean;
      readonly place?: InlinePlace;
      readonly under?: Under;
    }
  | {
      readonly kind: "row";
      readonly table: string;
      readonly keys: readonly string[];
      readonly cells: Readonly<Record<string, string>>;
      /** Cells stand behind the keys, by the place of their column: the table's definition parts them. */
      readonly placed?: true;
    }
  /** One cell of a row; `row`: its keys as they are written. */
  | {
      readonly kind: "cell";
      readonly table: string;
      readonly row: string;
      readonly column: string;
      readonly value: string;
    }
  | { readonly kind: "select"; readonly profile: string; readonly number: number }
  /** `value` as it is written: where there is no such profile, the pair may be a setting's. */
  | { readonly kind: "activate"; readonly profile: string; readonly number: number; readonly value: string }
  | { readonly kind: "clear"; readonly table: string }
  /**
   * What follows belongs to a place: a profile, a table's row, or a part of the system; `prefix`: its keys begin with
   * that. With a prefix alone the place stays, unless the prefix is the name of one.
   */
  | { readonly kind: "section"; readonly name: string; readonly number: string; readonly prefix?: string }
  /** Back to where the last heading stood. */
  | { readonly kind: "leave" }
  /** Values of one place, in one statement. */
  | {
      readonly kind: "record";
      readonly name: string;
      readonly number: string;
      readonly edition?: string;
      readonly values: readonly (readonly [key: string, value: string])[];
    }
  | { readonly kind: "comment" }
  | { readonly kind: "answer" }
  | { readonly kind: "echo" }
  | { readonly kind: "blank" }
  | {
      readonly kind: "foreign";
      readonly reason?: string;
      /** A pair that has no meaning where it stands. */
      readonly stray?: { readonly key: string; readonly value: string };
    };

/** Where a heading leads. */
export interface Heading {
  /** Name of the section that it opened. */
  readonly section: string | undefined;
  /** What the place under it is called. */
  readonly place: string | undefined;
  /** Beginnings of keys, the outermost first. */
  readonly path: readonly string[];
  /** The table whose rows stand here without its name. */
  readonly table: string | undefined;
  /** What keys may begin with here. */
  readonly under?: Under;
}

/** Where the reader stands. */
export interface Reader {
  at: Heading;
  /** Headings that are still open, in languages that close them. */
  readonly open: Heading[];
}
/** No language has headings deeper in each other than this. */
export const MOST_OPEN = 8;

const OUTSIDE: Heading = { section: undefined, place: undefined, path: [], table: undefined };
export const newReader = (): Reader => ({ at: OUTSIDE, open: [] });

export interface ReadClause extends Clause {
  readonly statements: readonly Statement[];
}

export interface ReadText extends Omit<ScannedText, "clauses"> {
  readonly clauses: readonly ReadClause[];
}

export const isCount = (text: string | undefined): text is string =>
  text !== undefined && text.length <= 9 && /^\d+$/.test(text);

/** Profiles are numbered from 1 here, whatever the idiom counts from or calls them by. */
export function profileNumber(
  text: string | undefined,
  { countFrom = 1 }: Pick<Idiom, "countFrom">,
): number | undefined {
  if (typeof countFrom === "object") {
    const named = countFrom.indexOf(text ?? "");
    return named < 0 ? undefined : named + 1;
  }
  if (typeof countFrom === "number") return isCount(text) ? Number(text) + 1 - countFrom : undefined;
  const place = text?.length === 1 ? text.toUpperCase().charCodeAt(0) - 64 : 0;
  return place >= 1 && place <= 26 ? place : undefined;
}

/** What the idiom calls a profile. */
export function profileName(number: number, { countFrom = 1 }: Pick<Idiom, "countFrom">): string {
  if (typeof countFrom === "object") return countFrom[number - 1] ?? String(number);
  if (typeof countFrom === "number") return String(number - 1 + countFrom);
  return String.fromCharCode(countFrom.charCodeAt(0) + number - 1);
}
