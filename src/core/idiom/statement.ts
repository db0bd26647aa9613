import { matchFields } from "@/core/catalog/pattern";
import type { Idiom, LineForm } from "@/core/idiom/definition";
import { scanText, splitLines, splitWords, type Clause, type ScannedText } from "@/core/idiom/text";

/** What a clause means, before any release is known. Values are as written, quotes taken off. */
export type Statement =
  | { readonly kind: "fact"; readonly name: string; readonly value: string }
  | { readonly kind: "end"; readonly lines?: number; readonly check?: string }
  | { readonly kind: "set"; readonly key: string; readonly value: string }
  | {
      readonly kind: "row";
      readonly table: string;
      readonly keys: readonly string[];
      readonly cells: Readonly<Record<string, string>>;
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

/** Profiles are numbered from 1 here, whatever the idiom counts from. */
const profileNumber = (text: string | undefined, idiom: Idiom): number | undefined =>
  isCount(text) ? Number(text) + 1 - (idiom.countFrom ?? 1) : undefined;

/** A value as it stands after its key: one word, or with units the rest of the line. */
function valueText(text: string, idiom: Idiom): string | undefined {
  // most values are one bare word
  if (!text.includes(" ") && !text.includes(idiom.quote)) return text === "" ? undefined : text;
  const words = splitWords(text, idiom.quote, idiom.escape);
  if (!words) return undefined;
  if (words.length === 1) return words[0];
  return idiom.spelling.unit === undefined || text.includes(idiom.quote) ? undefined : text.trim();
}

function build({ means, at }: LineForm, found: readonly string[], idiom: Idiom): Statement | undefined {
  switch (means) {
    case "set": {
      const value = valueText(found[at.value] ?? "", idiom);
      return value === undefined ? undefined : { kind: "set", key: found[at.key] ?? "", value };
    }
    case "fact":
      return { kind: "fact", name: found[at.name] ?? "", value: found[at.value] ?? "" };
    case "end": {
      const [lines, check] = [found[at.lines], found[at.check]];
      if (lines !== undefined && !isCount(lines)) return undefined;
      return {
        kind: "end",
        ...(lines === undefined ? {} : { lines: Number(lines) }),
        ...(check === undefined ? {} : { check: check.toLowerCase() }),
      };
    }
    case "row":
      return buildRow(found[at.table] ?? "", found[at.cells] ?? "", idiom);
    case "select": {
      const number = profileNumber(found[at.number], idiom);
      return number === undefined ? undefined : { kind: "select", profile: found[at.profile] ?? "", number };
    }
    case "clear":
      return { kind: "clear", table: found[at.table] ?? "" };
    case "section":
      return { kind: "section", name: found[at.section] ?? "", number: (found[at.number] ?? "").trim() };
    case "comment":
      return { kind: "comment" };
    case "answer":
      return { kind: "answer" };
  }
}

function buildRow(table: string, text: string, idiom: Idiom): Statement | undefined {
  const words = splitWords(text, idiom.quote, idiom.escape);
  if (!words) return undefined;
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

function oneStatement(text: string, idiom: Idiom): Statement {
  const start = startOf(text);
  if (start === text.length) return BLANK;
  const record = idiom.record && readRecord(text.trim(), idiom);
  if (record) return record;
  const anyCase = idiom.spelling.anyCase === true;
  for (const line of idiom.linesByStart.get(text.charAt(start)) ?? idiom.linesOfAnyStart) {
    if (!anyCase && !text.startsWith(line.head, start)) continue;
    const found = matchFields(line.pattern, text);
    const statement = found && build(line, found, idiom);
    if (statement) return statement;
  }
  return idiom.commandWords.has(text.trim()) ? { kind: "echo" } : { kind: "foreign" };
}

/** What a clause means in this idiom, and where it leaves the reader. What fits no form is foreign. */
export function readClause(clause: Pick<Clause, "text" | "fault">, idiom: Idiom, reader: Reader): Statement[] {
  if (clause.fault !== undefined) return [{ kind: "foreign", reason: clause.fault }];
  const statement = oneStatement(clause.text, idiom);
  if (statement.kind === "section") reader.section = statement.name;
  if (statement.kind === "section" && statement.name === idiom.recital.endSection?.name) return [{ kind: "end" }];
  if (statement.kind === "set")
    return [pairInSection(reader.section, statement.key, statement.value, idiom) ?? statement];
  if (statement.kind === "record") {
    const told = statement.values.map(([key, value]) => pairInSection(statement.name, key, value, idiom));
    if (told.length > 0 && told.every((each) => each !== undefined)) return told;
  }
  return [statement];
}

/** Reads a text in an idiom, every byte accounted for. */
export function readStatements(text: string, idiom: Idiom): ReadText {
  const reader = newReader();
  if (!idiom.scans) {
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
    read.push(fault === undefined ? { line, text: said, statements } : { line, text: said, statements, fault });
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
