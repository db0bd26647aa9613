import { FACT_FIELDS, type FieldName } from "@/core/catalog";
import { matchFields } from "@/core/catalog/pattern";
import { ownName, type Idiom, type LineForm } from "@/core/idiom/definition";
import { scansText, scanText, splitLines, splitWords, type Clause, type ScannedText } from "@/core/idiom/text";

/** The profile that a line names for its own value; without its kind that of the setting's. */
export interface InlinePlace {
  readonly profile?: string;
  readonly number: number;
}

/** What a clause means, before any release is known. Values are as written, quotes taken off. */
export type Statement =
  | { readonly kind: "fact"; readonly name: string; readonly value: string }
  | { readonly kind: "end"; readonly lines?: number; readonly check?: string }
  | { readonly kind: "set"; readonly key: string; readonly value: string; readonly place?: InlinePlace }
  /** One flag of a set of them. */
  | {
      readonly kind: "member";
      readonly key: string;
      readonly member: string;
      readonly on: boolean;
      readonly place?: InlinePlace;
    }
  | {
      readonly kind: "row";
      readonly table: string;
      readonly keys: readonly string[];
      readonly cells: Readonly<Record<string, string>>;
      /** Cells stand behind the keys, by the place of their column: the table's definition parts them. */
      readonly placed?: true;
    }
  | { readonly kind: "select"; readonly profile: string; readonly number: number }
  /** `value` as it is written: where there is no such profile, the pair may be a setting's. */
  | { readonly kind: "activate"; readonly profile: string; readonly number: number; readonly value: string }
  | { readonly kind: "clear"; readonly table: string }
  /** What follows belongs to a place: a profile, a table's row, or a part of the system. */
  | { readonly kind: "section"; readonly name: string; readonly number: string }
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

/** Where the reader stands: the section that the last heading opened. */
export interface Reader {
  section: string | undefined;
}
export const newReader = (): Reader => ({ section: undefined });

export interface ReadClause extends Clause {
  readonly statements: readonly Statement[];
}

export interface ReadText extends Omit<ScannedText, "clauses"> {
  readonly clauses: readonly ReadClause[];
}

const isCount = (text: string | undefined): text is string =>
  text !== undefined && text.length <= 9 && /^\d+$/.test(text);

/** Profiles are numbered from 1 here, whatever the idiom counts from or calls them by. */
export function profileNumber(
  text: string | undefined,
  { countFrom = 1 }: Pick<Idiom, "countFrom">,
): number | undefined {
  if (typeof countFrom === "number") return isCount(text) ? Number(text) + 1 - countFrom : undefined;
  const place = text?.length === 1 ? text.toUpperCase().charCodeAt(0) - 64 : 0;
  return place >= 1 && place <= 26 ? place : undefined;
}

/** What the idiom calls a profile. */
export function profileName(number: number, { countFrom = 1 }: Pick<Idiom, "countFrom">): string {
  if (typeof countFrom === "number") return String(number - 1 + countFrom);
  return String.fromCharCode(countFrom.charCodeAt(0) + number - 1);
}

/** A value as it stands after its key: one word, or with units the rest of the line. */
function valueText(text: string, idiom: Idiom): string | undefined {
  // most values are one bare word
  if (!text.includes(" ") && !text.includes(idiom.quote)) return text === "" ? undefined : text;
  const words = splitWords(text, idiom.quote, idiom.escape);
  if (!words) return undefined;
  if (words.length === 1) return words[0];
  return idiom.spelling.unit === undefined || text.includes(idiom.quote) ? undefined : text.trim();
}

/** A fact's word without the quotes that it may stand in. */
function unquoted(text: string | undefined, { quote, escape }: Idiom): string | undefined {
  if (!text?.startsWith(quote)) return text;
  const words = splitWords(text, quote, escape);
  return words?.length === 1 ? words[0] : text;
}

/** Words that a mark parts, outside of quotes; blanks around them do not count. Undefined when a quote is left open. */
function splitList(text: string, mark: string, { quote, escape = "\\" }: Idiom): string[] | undefined {
  const words: string[] = [];
  let word = "";
  let quoted = false;
  for (let i = 0; i < text.length;) {
    const c = text.charAt(i);
    if (quoted && c === escape && i + 1 < text.length && (escape !== quote || text.charAt(i + 1) === quote)) {
      word += text.charAt(i + 1);
      i += 2;
    } else if (c === quote) {
      quoted = !quoted;
      i++;
    } else if (!quoted && text.startsWith(mark, i)) {
      words.push(word.trim());
      word = "";
      i += mark.length;
    } else {
      word += c;
      i++;
    }
  }
  words.push(word.trim());
  return quoted ? undefined : words;
}

/** What a line's fields say: what stands in them, else what its form says by itself. */
type Said = (field: FieldName) => string | undefined;

const saidBy =
  ({ at, fixed }: LineForm, found: readonly string[]): Said =>
  (field) =>
    at[field] >= 0 ? found[at[field]] : fixed[field];

/** The profile that a line names for its own value. */
function ownPlace(said: Said, idiom: Idiom): InlinePlace | undefined | "odd" {
  const text = said("number");
  if (text === undefined) return undefined;
  const number = profileNumber(text, idiom);
  const profile = said("profile");
  return number === undefined ? "odd" : { number, ...(profile === undefined ? {} : { profile }) };
}

function buildSet(form: LineForm, said: Said, idiom: Idiom): Statement[] | undefined {
  const place = ownPlace(said, idiom);
  if (place === "odd") return undefined;
  const own = place ? { place } : {};
  const key = said("key") ?? "";
  if (form.list) {
    const values = splitList(said("values") ?? "", form.list.mark.trim(), idiom);
    const { join, from = 1 } = form.list;
    if (!values || values.length < 2) return undefined;
    return values.map((value, i) => ({ kind: "set", key: `${key}${join}${i + from}`, value, ...own }));
  }
  const value = valueText(said("value") ?? "", idiom);
  return value === undefined ? undefined : [{ kind: "set", key, value, ...own }];
}

function buildFacts(said: Said): Statement[] | undefined {
  const [name, value] = [said("name"), said("value")];
  if (name !== undefined && value !== undefined) return [{ kind: "fact", name, value }];
  return FACT_FIELDS.flatMap((field): Statement[] => {
    const word = said(field);
    return word === undefined ? [] : [{ kind: "fact", name: ownName(field), value: word }];
  });
}

function build(form: LineForm, found: readonly string[], idiom: Idiom): Statement[] | undefined {
  const said = saidBy(form, found);
  switch (form.means) {
    case "set":
      return buildSet(form, said, idiom);
    case "raise":
    case "lower": {
      const place = ownPlace(said, idiom);
      const [key = "", member = ""] = [said("key"), said("member")];
      return place === "odd"
        ? undefined
        : [{ kind: "member", key, member, on: form.means === "raise", ...(place ? { place } : {}) }];
    }
    case "fact":
      return buildFacts((field) => unquoted(said(field), idiom));
    case "end": {
      const [lines, check] = [said("lines"), said("check")];
      if (lines !== undefined && !isCount(lines)) return undefined;
      return [
        {
          kind: "end",
          ...(lines === undefined ? {} : { lines: Number(lines) }),
          ...(check === undefined ? {} : { check: check.toLowerCase() }),
        },
      ];
    }
    case "row": {
      const row = buildRow(said("table") ?? "", said("cells") ?? "", idiom);
      return row && [row];
    }
    case "select":
    case "activate": {
      const text = said("number") ?? "";
      const number = profileNumber(text, idiom);
      const profile = said("profile") ?? "";
      if (number === undefined) return undefined;
      const active: Statement = { kind: "activate", profile, number, value: text };
      if (form.means === "activate") return [active];
      return form.active === true
        ? [{ kind: "select", profile, number }, active]
        : [{ kind: "select", profile, number }];
    }
    case "clear":
      return [{ kind: "clear", table: said("table") ?? "" }];
    case "section": {
      const [name, text] = [said("section") ?? "", (said("number") ?? "").trim()];
      const section: Statement = { kind: "section", name, number: text };
      const number = form.active === true ? profileNumber(text, idiom) : undefined;
      return number === undefined ? [section] : [section, { kind: "activate", profile: name, number, value: text }];
    }
    case "comment":
      return [{ kind: "comment" }];
    case "answer":
      return [{ kind: "answer" }];
  }
}

function buildRow(table: string, text: string, idiom: Idiom): Statement | undefined {
  const { between, cells: how, mask } = idiom.rows;
  const words =
    between === undefined ? splitWords(text, idiom.quote, idiom.escape) : splitList(text, between.trim(), idiom);
  if (!words) return undefined;
  if (how === "placed" || mask === true) return { kind: "row", table, keys: words, cells: {}, placed: true };
  const mark = idiom.recital.cellMark ?? "=";
  const firstCell = words.findIndex((word) => word.includes(mark));
  const keys = firstCell < 0 ? words : words.slice(0, firstCell);
  const cells: Record<string, string> = {};
  for (const word of firstCell < 0 ? [] : words.slice(firstCell)) {
    const at = word.indexOf(mark);
    if (at <= 0) return undefined;
    cells[word.slice(0, at)] = word.slice(at + mark.length);
  }
  return { kind: "row", table, keys, cells };
}

const MAX_FIELDS = 4000;

/** A JSON value as the text that a value is read from. Nothing nested is a value. */
function jsonText(value: unknown, idiom: Idiom): string | undefined {
  if (typeof value === "string") return value;
  if (typeof value === "number" && Number.isFinite(value)) {
    const text = String(value);
    return idiom.spelling.decimalMark === "," ? text.replace(".", ",") : text;
  }
  if (typeof value === "boolean") return value ? idiom.spelling.on : idiom.spelling.off;
  if (!Array.isArray(value)) return undefined;
  const words = value.map((word) => (typeof word === "string" ? word : undefined));
  if (words.includes(undefined)) return undefined;
  return words.length === 0 ? idiom.spelling.empty : words.join(idiom.spelling.listMark);
}

function readRecord(text: string, idiom: Idiom): Statement | undefined {
  const form = idiom.record;
  if (!form || !text.startsWith("{")) return undefined;
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    return { kind: "foreign", reason: "The record is not well-formed JSON" };
  }
  const fields = body as Record<string, unknown>;
  const name = fields[form.section];
  const holds = fields[form.values];
  if (typeof name !== "string" || typeof holds !== "object" || holds === null || Array.isArray(holds)) return undefined;
  const entries = Object.entries(holds as Record<string, unknown>);
  if (entries.length > MAX_FIELDS) return { kind: "foreign", reason: `The record has more than ${MAX_FIELDS} fields` };
  const values: [string, string][] = [];
  for (const [key, value] of entries) {
    const written = jsonText(value, idiom);
    if (written === undefined) return { kind: "foreign", reason: `The record's field ${key} holds no plain value` };
    values.push([key, written]);
  }
  const number = fields[form.number];
  const edition = form.edition === undefined ? undefined : fields[form.edition];
  return {
    kind: "record",
    name,
    number: typeof number === "number" || typeof number === "string" ? String(number) : "",
    ...(typeof edition === "string" ? { edition } : {}),
    values,
  };
}

/** What one pair means inside the sections that speak of the read-out itself; undefined elsewhere. */
function pairInSection(section: string | undefined, key: string, value: string, idiom: Idiom): Statement | undefined {
  const { factsSection, sensesSection, activeSection, endSection } = idiom.recital;
  if (section === undefined) return undefined;
  if (section === factsSection || section === sensesSection) return { kind: "fact", name: key, value };
  if (section === activeSection) {
    const number = profileNumber(value, idiom);
    return number === undefined
      ? { kind: "foreign", stray: { key, value } }
      : { kind: "activate", profile: key, number, value };
  }
  if (section === endSection?.name) {
    if (key === endSection.lines && isCount(value)) return { kind: "end", lines: Number(value) };
    return key === endSection.check
      ? { kind: "end", check: value.toLowerCase() }
      : { kind: "foreign", stray: { key, value } };
  }
  return undefined;
}

const BLANK: Statement = { kind: "blank" };

/** Where a line's first character stands; most lines begin with it. */
const startOf = (text: string): number => {
  const first = text.charCodeAt(0);
  return first > 32 && first < 127 ? 0 : text.length - text.trimStart().length;
};

function fitting(text: string, forms: readonly LineForm[], start: number, idiom: Idiom): Statement[] | undefined {
  const anyCase = idiom.spelling.anyCase === true;
  for (const line of forms) {
    if (!anyCase && !text.startsWith(line.head, start)) continue;
    const found = matchFields(line.pattern, text);
    const statements = found && build(line, found, idiom);
    if (statements) return statements;
  }
  return undefined;
}

function statementsOf(text: string, idiom: Idiom): Statement[] {
  const start = startOf(text);
  if (start === text.length) return [BLANK];
  const record = idiom.record && readRecord(text.trim(), idiom);
  if (record) return [record];
  return (
    fitting(text, idiom.linesByStart.get(text.charAt(start)) ?? idiom.linesOfAnyStart, start, idiom) ?? [
      idiom.commandWords.has(text.trim()) ? { kind: "echo" } : { kind: "foreign" },
    ]
  );
}

const SAYS_NOTHING: ReadonlySet<Statement["kind"]> = new Set(["comment", "answer", "echo", "blank"]);

/** Which meaning a statement's line had, among those that a document names. */
const meaningOf = (statement: Statement): string =>
  statement.kind === "member" ? (statement.on ? "raise" : "lower") : statement.kind;

/** Whether lines like this one carry no check, by the language's own word. */
const needsNone = (statement: Statement, { text: { lineCheck } }: Idiom): boolean =>
  SAYS_NOTHING.has(statement.kind) || (lineCheck?.without ?? []).some((means) => means === meaningOf(statement));

/** What a clause means in this idiom, and where it leaves the reader. What fits no form is foreign. */
export function readClause(
  clause: Pick<Clause, "text" | "fault" | "unchecked" | "comment">,
  idiom: Idiom,
  reader: Reader,
): Statement[] {
  if (clause.fault !== undefined) return [{ kind: "foreign", reason: clause.fault }];
  if (clause.comment)
    return fitting(clause.text, idiom.linesInComments, startOf(clause.text), idiom) ?? [{ kind: "comment" }];
  const statements = statementsOf(clause.text, idiom);
  const [statement] = statements;
  if (!statement) return [];
  if (clause.unchecked && !needsNone(statement, idiom))
    return [{ kind: "foreign", reason: "The line carries no check" }];
  if (statement.kind === "section") reader.section = statement.name;
  if (statement.kind === "section" && statement.name === idiom.recital.endSection?.name) return [{ kind: "end" }];
  if (statement.kind === "set" && statements.length === 1)
    return [pairInSection(reader.section, statement.key, statement.value, idiom) ?? statement];
  if (statement.kind === "record") {
    const told = statement.values.map(([key, value]) => pairInSection(statement.name, key, value, idiom));
    if (told.length > 0 && told.every((each) => each !== undefined)) return told;
  }
  return statements;
}

/** Reads a text in an idiom, every byte accounted for. */
export function readStatements(text: string, idiom: Idiom): ReadText {
  const reader = newReader();
  if (!scansText(text, idiom)) {
    // each line is a clause as it stands, and most texts are long: no object is made for it in between
    const lines = splitLines(text);
    const clauses = lines.map((line): ReadClause => ({
      line: line.number,
      text: line.text,
      statements: readClause(line, idiom, reader),
    }));
    return { lines, clean: lines, clauses };
  }
  const { lines, clean, clauses } = scanText(text, idiom);
  const read: ReadClause[] = [];
  for (const clause of clauses) {
    const { line, text: said, fault } = clause;
    const statements = readClause(clause, idiom, reader);
    read.push({
      line,
      text: said,
      statements,
      ...(fault === undefined ? {} : { fault }),
      ...(clause.comment ? { comment: true } : {}),
    });
  }
  return { lines, clean, clauses: read };
}

/** The facts that a text states, by name. */
export function factsIn(text: string, idiom: Idiom): Map<string, string> {
  const facts = new Map<string, string>();
  for (const { statements } of readStatements(text, idiom).clauses)
    for (const statement of statements) if (statement.kind === "fact") facts.set(statement.name, statement.value);
  return facts;
}
