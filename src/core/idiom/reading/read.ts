import { inSmall, matchFields, trimmed } from "@/core/catalog/pattern";
import { build } from "@/core/idiom/reading/build";
import type { Clause } from "@/core/idiom/definition/clause";
import type { Idiom, LineForm } from "@/core/idiom/definition/definition";
import type { Writable } from "@/core/idiom/reading/scan";
import {
  isCount,
  MOST_OPEN,
  newReader,
  profileNumber,
  type Heading,
  type ReadClause,
  type Reader,
  type ReadText,
  type Statement,
  type Under,
} from "@/core/idiom/reading/statement";
import { scansText, scanText, splitLines } from "@/core/idiom/reading/text";

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

/** The first form that a line, without blanks at its ends, can have. */
function fitting(text: string, forms: readonly LineForm[], idiom: Idiom): Statement[] | undefined {
  const lowered = idiom.spelling.anyCase === true ? inSmall(text) : undefined;
  const probe = lowered ?? text;
  for (const line of forms) {
    if (!probe.startsWith(line.head) || !probe.endsWith(line.tail) || !probe.includes(line.inner)) continue;
    const found = matchFields(line.pattern, text, lowered);
    const statements = found && build(line, found, idiom);
    if (statements) return statements;
  }
  return undefined;
}

function statementsOf(line: string, idiom: Idiom): Statement[] {
  const text = trimmed(line);
  if (text === "") return [BLANK];
  const record = idiom.record && readRecord(text, idiom);
  if (record) return [record];
  const first = idiom.spelling.anyCase === true ? text.charAt(0).toLowerCase() : text.charAt(0);
  return (
    fitting(text, idiom.linesByStart.get(first) ?? idiom.linesOfAnyStart, idiom) ?? [
      idiom.commandWords.has(text) ? { kind: "echo" } : { kind: "foreign" },
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
  if (clause.comment) return fitting(trimmed(clause.text), idiom.linesInComments, idiom) ?? [{ kind: "comment" }];
  const statements = statementsOf(clause.text, idiom);
  const [statement] = statements;
  if (!statement) return [];
  if (clause.unchecked && !needsNone(statement, idiom))
    return [{ kind: "foreign", reason: "The line carries no check" }];
  if (statement.kind === "section" || statement.kind === "leave") moveOn(reader, statement, idiom);
  else if (statement.kind === "clear") reader.at = { ...reader.at, table: statement.table };
  else if (statement.kind === "select") reader.at = { ...reader.at, table: undefined };
  const { section } = reader.at;
  if (statement.kind === "section" && section !== undefined && section === idiom.recital.endSection?.name)
    return [{ kind: "end" }];
  if (statement.kind === "set" && statements.length === 1) {
    const pair = pairInSection(section, statement.key, statement.value, idiom);
    if (pair) return [pair];
  }
  if (statement.kind === "record") {
    const pairs = statement.values.map(([key, value]) => pairInSection(statement.name, key, value, idiom));
    if (pairs.length > 0 && pairs.every((each) => each !== undefined)) return pairs;
  }
  return idiom.keysUnder === undefined && !idiom.rowsUnder
    ? statements
    : statements.map((each) => underHeading(each, reader.at));
}

/** Where a heading, or the end of what stands under one, leaves the reader. */
function moveOn(reader: Reader, statement: Extract<Statement, { kind: "section" | "leave" }>, idiom: Idiom): void {
  if (statement.kind === "leave") {
    reader.at = reader.open.pop() ?? newReader().at;
    return;
  }
  const { at } = reader;
  const { name, prefix } = statement;
  if (idiom.leaves && reader.open.length < MOST_OPEN) reader.open.push(at);
  const own = prefix === undefined ? [] : [prefix];
  const path = name === "" && idiom.leaves ? [...at.path, ...own].slice(-MOST_OPEN) : own;
  const [section, place] = name === "" ? [prefix, at.place] : [name, name];
  const under = idiom.keysUnder && beginningsOf(place, path, idiom.keysUnder.join);
  reader.at = { section, place, path, table: section, ...(under ? { under } : {}) };
}

/** What keys may begin with under headings: those that name no place, with and without the place's own name before them. */
function beginningsOf(place: string | undefined, path: readonly string[], join: string): Under | undefined {
  if (place === undefined && path.length === 0) return undefined;
  const inner = path.map((_, i) => path.slice(i).join(join) + join);
  const whole = place === undefined ? [] : [[place, ...path].join(join) + join];
  const own = place === undefined || path.length === 0 ? [] : [place + join];
  return { beginnings: [...inner, ...whole, ...own], head: inner[0] ?? "" };
}

/** A statement with what the headings before it say: beginnings of its key, the table of its row. */
function underHeading(statement: Statement, { under, table }: Heading): Statement {
  switch (statement.kind) {
    case "set":
    case "member":
      // it was made for this line
      if (under !== undefined) (statement as Writable<typeof statement>).under = under;
      return statement;
    case "row":
    case "cell":
      if (statement.table !== "") return statement;
      return table === undefined ? { kind: "foreign" } : { ...statement, table };
    default:
      return statement;
  }
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
  // the clauses were made for this text
  const read = clauses as readonly Writable<ReadClause>[];
  for (const clause of read) clause.statements = readClause(clause, idiom, reader);
  return { lines, clean, clauses: read };
}

/** The facts that a text states, by name. */
export function factsIn(text: string, idiom: Idiom): Map<string, string> {
  const facts = new Map<string, string>();
  for (const { statements } of readStatements(text, idiom).clauses)
    for (const statement of statements) if (statement.kind === "fact") facts.set(statement.name, statement.value);
  return facts;
}
