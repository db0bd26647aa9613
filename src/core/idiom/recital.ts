import { str as crc32 } from "crc-32";
import { findRelease, indexOf, type Catalogue, type Release } from "@/core/catalog";
import {
  parseValue,
  profileScope,
  type Configuration,
  type Identity,
  type ScopeId,
  type SettingEntry,
  type TableRow,
  type UnknownLine,
  type Value,
} from "@/core/config";
import { judgeCompleteness, type Completeness } from "@/core/idiom/completeness";
import { type Idiom } from "@/core/idiom/definition";
import { readStatement, splitLines, type SourceLine, type Statement } from "@/core/idiom/statement";
import { ok, refuse, type Result } from "@/core/problem";

export interface ReadLine extends SourceLine {
  readonly statement: Statement;
}

/** A read-out: its lines, what they mean, the configuration they make, and how complete it is. */
export interface Recital {
  readonly lines: readonly ReadLine[];
  readonly release: Release;
  readonly configuration: Configuration;
  readonly completeness: Completeness;
}

/** No backup is larger: the whole of a release of 1,600 settings in all profiles is under a tenth of it. */
export const MAX_TEXT_BYTES = 4_000_000;
const MAX_LINE_CHARACTERS = 2000;

/** CRC-32 (ISO-HDLC) over lines, each followed by a line feed, as eight hex digits. */
export function checkOf(lines: readonly string[]): string {
  return (crc32(lines.map((line) => `${line}\n`).join("")) >>> 0).toString(16).padStart(8, "0");
}

export function identityOf(statements: Iterable<Statement>, idiom: Idiom): Identity {
  const identity: Record<string, string> = {};
  for (const statement of statements) {
    if (statement.kind !== "fact") continue;
    for (const [field, name] of Object.entries(idiom.facts))
      if (name === statement.name) identity[field] = statement.value;
  }
  return identity;
}

/** The configuration that the lines make on a board of this release, every value with its line. */
export function configurationOf(lines: readonly ReadLine[], idiom: Idiom, release: Release): Configuration {
  const index = indexOf(release);
  const settings: SettingEntry[] = [];
  const rows: TableRow[] = [];
  const unknown: UnknownLine[] = [];
  const active: Record<string, number> = {};
  for (const line of lines) {
    const { statement, number, text } = line;
    const selected = (kind: string): ScopeId => (kind === "system" ? "system" : profileScope(kind, active[kind] ?? 1));
    const keep = (reason: string, scope: ScopeId = "system") => unknown.push({ line: number, text, scope, reason });
    if (statement.kind === "set") {
      const setting = index.settings.get(statement.key);
      if (!setting) {
        keep(`${release.family} ${release.version} has no setting of this name`);
        continue;
      }
      const scope = selected(setting.scope);
      const value = parseValue(statement.value, setting.type, idiom.spelling);
      if (value.ok) settings.push({ scope, key: setting.key, value: value.value, raw: statement.value, line: number });
      else keep(value.problem.message, scope);
    } else if (statement.kind === "row") {
      const table = index.tables.get(statement.table);
      const row = table && rowOf(statement, table, idiom);
      if (!row)
        keep(
          table
            ? "The row does not fit the table's columns"
            : `${release.family} ${release.version} has no table of this name`,
        );
      else rows.push({ ...row, line: number });
    } else if (statement.kind === "select") {
      const profile = release.profiles.find((p) => p.kind === statement.profile);
      if (profile && statement.number >= 1 && statement.number <= profile.count)
        active[profile.kind] = statement.number;
      else keep("There is no such profile");
    } else if (statement.kind === "foreign") keep("The idiom has no statement like this");
  }
  return {
    identity: identityOf(
      lines.map((l) => l.statement),
      idiom,
    ),
    settings,
    rows,
    active,
    unknown,
  };
}

function rowOf(
  statement: Extract<Statement, { kind: "row" }>,
  table: NonNullable<ReturnType<ReturnType<typeof indexOf>["tables"]["get"]>>,
  idiom: Idiom,
): Omit<TableRow, "line"> | undefined {
  if (statement.keys.length !== table.keys.length) return undefined;
  const cells: Record<string, Value> = {};
  for (const [i, column] of table.keys.entries())
    if (!parseValue(statement.keys[i] ?? "", column.type, idiom.spelling).ok) return undefined;
  for (const [name, text] of Object.entries(statement.cells)) {
    const column = table.columns.find((c) => c.name === name);
    const value = column && parseValue(text, column.type, idiom.spelling);
    if (!value?.ok) return undefined;
    cells[name] = value.value;
  }
  return { table: table.name, key: statement.keys.join(" "), cells };
}

/** Where read-outs begin and end in a text: each begins at the fact that names the family. */
function findReadouts(lines: readonly ReadLine[], idiom: Idiom): { first: number; last: number }[] {
  const starts = lines.flatMap((line, i) =>
    line.statement.kind === "fact" && line.statement.name === idiom.facts.family ? [i] : [],
  );
  return starts.map((first, i) => {
    const limit = starts[i + 1] ?? lines.length;
    let last = limit - 1;
    for (let at = first; at < limit; at++) if (lines[at]?.statement.kind === "end") last = at;
    return { first, last };
  });
}

/**
 * Reads a text as it came from a console or a file: foreign text around, CRLF, several read-outs, a lost last line end
 * and a cut are tolerated and said, never passed over. Of several read-outs the last complete one is taken, else the last.
 * Refuses a text without a read-out, of an unknown release, over 4 MB, or with a line over 2,000 characters.
 */
export function readRecital(text: string, idiom: Idiom, catalogue: Catalogue): Result<Recital> {
  if (text.length > MAX_TEXT_BYTES)
    return refuse({
      code: "backup-size",
      message: "The text is too large for a read-out",
      detail: `${text.length} characters; the limit is ${MAX_TEXT_BYTES}`,
      hint: "Cut the read-out out of the capture and try again",
    });
  const control = text.search(/[\0-\x08\x0e-\x1f]/);
  if (control >= 0)
    return refuse({
      code: "backup-binary",
      message: "The file is not a text",
      detail: `Character ${control + 1} is a control character`,
      hint: "A read-out is what the console printed, as plain text",
    });
  const lines: ReadLine[] = [];
  for (const line of splitLines(text)) {
    if (line.text.length > MAX_LINE_CHARACTERS)
      return refuse({
        code: "backup-line",
        message: "A line is too long for a read-out",
        detail: `${line.text.length} characters; the limit is ${MAX_LINE_CHARACTERS}`,
        where: { line: line.number },
      });
    lines.push({ ...line, statement: readStatement(line.text, idiom) });
  }
  const readouts = findReadouts(lines, idiom);
  if (readouts.length === 0)
    return refuse({
      code: "backup-foreign",
      message: "No read-out was found in this text",
      detail: `No line of the form “${idiom.facts.family ?? ""}: …” in ${lines.length} lines`,
      hint: "Take the text from the console's first line to its last",
    });
  const read = readouts.map((span) => oneRecital(lines, span, readouts.length, idiom, catalogue));
  const whole = read.filter((r) => r.ok && r.value.completeness.verdict === "complete");
  return (
    whole.at(-1) ?? read.at(-1) ?? refuse({ code: "backup-foreign", message: "No read-out was found in this text" })
  );
}

function oneRecital(
  all: readonly ReadLine[],
  span: { first: number; last: number },
  readouts: number,
  idiom: Idiom,
  catalogue: Catalogue,
): Result<Recital> {
  const lines = all.slice(span.first, span.last + 1);
  const identity = identityOf(
    lines.map((line) => line.statement),
    idiom,
  );
  const release = findRelease(catalogue, identity.family, identity.release);
  if (!release.ok) return release;
  const configuration = configurationOf(lines, idiom, release.value);
  const outside = [...all.slice(0, span.first), ...all.slice(span.last + 1)].filter(
    (line) => line.statement.kind === "foreign",
  );
  const completeness = judgeCompleteness({
    lines,
    configuration,
    release: release.value,
    idiom,
    outside,
    readouts,
    checkOf,
  });
  return ok({ lines: all, release: release.value, configuration, completeness });
}
