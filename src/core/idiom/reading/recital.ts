import { findFirmware, indexOf, type Catalogue, type Firmware } from "@/core/catalog";
import { addressId, equalValues, type Configuration, type Identity, type SettingEntry } from "@/core/config";
import { bottomOf, topOf } from "@/core/idiom/reading/adorn";
import { judgeCompleteness, judgeEnd, type Completeness, type Finding } from "@/core/idiom/reading/completeness";
import { configurationOf } from "@/core/idiom/reading/configuration";
import { identityOf } from "@/core/idiom/reading/places";
import type { Idiom } from "@/core/idiom/definition/definition";
import { readStatements } from "@/core/idiom/reading/read";
import type { ReadClause, ReadText, Statement } from "@/core/idiom/reading/statement";
import type { SourceLine } from "@/core/idiom/reading/text";
import { ok, refuse, type Result } from "@/core/problem";

/** A read-out: its text and what it means, the configuration that it makes, and how complete it is. */
export interface Recital {
  readonly lines: readonly SourceLine[];
  readonly clauses: readonly ReadClause[];
  /** First and last line of the read-out in the text. */
  readonly span: { readonly first: number; readonly last: number };
  readonly idiom: Idiom;
  readonly release: Firmware;
  readonly configuration: Configuration;
  readonly completeness: Completeness;
}

/** No backup is larger: the whole of a release of 1,600 settings in all profiles is under a tenth of it. */
export const MAX_TEXT_BYTES = 4_000_000;
const MAX_LINE_CHARACTERS = 8000;
/** Ten times what the largest of today's boards recites. */
const MAX_LINES = 60_000;
/** Line noise holds control characters: so many are damage to their lines, more are another kind of file. */
const CONTROL = /[\0-\x08\x0e-\x1a\x1c-\x1f]/g;
const MOST_NOISE = 8;
const NOISE_SHARE = 50;

const tooManyLines = () =>
  refuse({
    code: "backup-lines",
    message: "The text has too many lines for a read-out",
    detail: `More than ${MAX_LINES}`,
    hint: "Cut the read-out out of the capture and try again",
  });

/** Refuses what cannot be a read-out whatever the idiom: too large, binary, or with a line without end. */
export function checkReadable(text: string): Result<string> {
  if (text.length > MAX_TEXT_BYTES)
    return refuse({
      code: "backup-size",
      message: "The text is too large for a read-out",
      detail: `${text.length} characters; the limit is ${MAX_TEXT_BYTES}`,
      hint: "Cut the read-out out of the capture and try again",
    });
  const control = text.match(CONTROL)?.length ?? 0;
  const most = text.length / NOISE_SHARE;
  if (control > most && (control > MOST_NOISE || control > 10 * most))
    return refuse({
      code: "backup-binary",
      message: "The file is not a text",
      detail: `${control} of its ${text.length} characters are control characters; the first is character ${text.search(CONTROL) + 1}`,
      hint: "A read-out is what the console printed, as plain text",
    });
  for (let at = 0, line = 1; at < text.length; line++) {
    const feed = text.indexOf("\n", at);
    const stop = feed < 0 ? text.length : feed;
    if (stop - at > MAX_LINE_CHARACTERS)
      return refuse({
        code: "backup-line",
        message: "A line is too long for a read-out",
        detail: `${stop - at} characters; the limit is ${MAX_LINE_CHARACTERS}`,
        where: { line },
      });
    if (line > MAX_LINES) return tooManyLines();
    at = stop + 1;
  }
  // a capture may end its lines by the carriage's return alone
  for (let at = text.indexOf("\r"), n = 0; at >= 0; at = text.indexOf("\r", at + 1))
    if (++n > MAX_LINES) return tooManyLines();
  return ok(text);
}

interface Span {
  readonly first: number;
  readonly last: number;
  /** Another closing line further on, before the next read-out: where the first one does not fit, it may be the true one. */
  readonly further?: number;
}

const MEANINGLESS = new Set(["foreign", "blank", "answer", "echo", "comment"]);
/** What is in the idiom's form and damaged belongs to the read-out as well. */
const meansSomething = (statement: Statement) =>
  !MEANINGLESS.has(statement.kind) || (statement.kind === "foreign" && statement.reason !== undefined);

const saysNothing = ({ kind }: Statement) => kind === "comment" || kind === "blank";
/** What is in the idiom's form and undamaged, wherever it stands. */
const speaks = (statement: Statement) =>
  statement.kind === "foreign" ? statement.stray !== undefined : !MEANINGLESS.has(statement.kind);

/**
 * Where read-outs begin and end, as places among the clauses: each begins with the fact that names the family, or where
 * the language is of one family alone, with the next that tells where it comes from.
 */
export function findReadouts(clauses: readonly ReadClause[], idiom: Idiom): Span[] {
  const spans: { first: number; last: number; further?: number; ended: boolean; closed: boolean }[] = [];
  const leads = idiom.recital.end?.at === "head";
  for (let at = 0; at < clauses.length; at++) {
    let begins = false;
    let ends = false;
    let means = false;
    for (const statement of clauses[at]?.statements ?? []) {
      if (statement.kind === "fact" && statement.name === idiom.beginsWith) begins = true;
      else if (statement.kind === "end") ends = true;
      means ||= meansSomething(statement);
    }
    if (begins) {
      // lines that say nothing may stand between
      let above = at - 1;
      while (clauses[above]?.statements.every(saysNothing) === true) above--;
      const heading = clauses[above]?.statements[0];
      const headed =
        heading?.kind === "section"
          ? [heading.name, heading.prefix].includes(idiom.recital.factsSection) &&
            idiom.recital.factsSection !== undefined
          : leads && heading?.kind === "end";
      spans.push({ first: headed ? above : at, last: at, ended: false, closed: false });
    }
    const open = spans.at(-1);
    if (!open || !means) continue;
    // what follows a closing line, up to the next read-out, is not of it
    open.closed ||= open.ended && !ends;
    if (!open.closed) open.last = at;
    else if (ends) open.further = at;
    open.ended ||= ends && !leads;
  }
  return spans;
}

/**
 * Reads a text as it came from a console or a file: foreign text around, CRLF, several read-outs, a lost last line end
 * and a cut are tolerated and said, never passed over. A text that does not say what it comes from is read as of the
 * `assumed` release, and said to be a part. Refuses a text without a read-out, of an unknown release, over 4 MB, or with
 * a line over 8,000 characters.
 */
export function readRecitals(text: string, idiom: Idiom, catalogue: Catalogue, assumed?: Firmware): Result<Recital[]> {
  const checked = checkReadable(text);
  return checked.ok ? recitalsOf(readStatements(text, idiom), idiom, catalogue, assumed) : checked;
}

/** The read-outs of a text that was read already. */
export function recitalsOf(read: ReadText, idiom: Idiom, catalogue: Catalogue, assumed?: Firmware): Result<Recital[]> {
  const spans = findReadouts(read.clauses, idiom);
  if (spans.length === 0) {
    const meant = read.clauses.flatMap((clause, i) => (clause.statements.some(meansSomething) ? [i] : []));
    const first = meant[0];
    if (!assumed || first === undefined)
      return refuse({
        code: "backup-foreign",
        message: "No read-out was found in this text",
        detail: `No line that says ${idiom.facts.family === undefined ? "where it comes from" : `“${idiom.facts.family}”`} in ${read.lines.length} lines`,
        hint: "Take the text from the console's first line to its last",
      });
    const span = { first, last: meant.at(-1) ?? first };
    const identity = identityOf(read.clauses.slice(span.first, span.last + 1), idiom);
    return ok([oneRecital(read, span, [span], { idiom, release: assumed, identity, assumed: true })]);
  }
  const recitals: Recital[] = [];
  for (const span of spans) {
    const identity = identityOf(read.clauses.slice(span.first, span.last + 1), idiom);
    const release = findFirmware(catalogue, identity.family, identity.release);
    if (!release.ok) return release;
    recitals.push(oneRecital(read, span, spans, { idiom, release: release.value, identity, assumed: false }));
  }
  return ok(recitals);
}

/** What somebody says that a text is, against or beside what it says itself. */
export interface ReadAs {
  readonly release: Firmware;
  /** What it holds: everything, or only what differs from the defaults; without it what the text says. */
  readonly extent?: "all" | "moved";
}

/** The read-outs of a text as of a release that somebody named. */
export function recitalsAs(read: ReadText, idiom: Idiom, { release, extent }: ReadAs): Result<Recital[]> {
  const found = findReadouts(read.clauses, idiom);
  const meant = read.clauses.flatMap((clause, i) => (clause.statements.some(meansSomething) ? [i] : []));
  const [first, last] = [meant[0], meant.at(-1)];
  if (first === undefined || last === undefined)
    return refuse({
      code: "backup-foreign",
      message: "No read-out was found in this text",
      detail: `Nothing in ${read.lines.length} lines is in the ${idiom.title.toLowerCase()}`,
      hint: "Choose a release that speaks another language",
    });
  const spans = found.length > 0 ? found : [{ first, last }];
  return ok(
    spans.map((span) => {
      const identity = identityOf(read.clauses.slice(span.first, span.last + 1), idiom);
      const origin = {
        idiom,
        release,
        identity,
        assumed: false,
        saidSo: true,
        ...(extent === undefined ? {} : { extent }),
      };
      return oneRecital(read, span, spans, origin);
    }),
  );
}

/** Of several read-outs the last complete one, else the last. */
export const chooseRecital = (recitals: readonly Recital[]): Recital | undefined =>
  recitals.filter((r) => r.completeness.verdict === "complete").at(-1) ?? recitals.at(-1);

/** The read-out that counts in a text. */
export function readRecital(text: string, idiom: Idiom, catalogue: Catalogue, assumed?: Firmware): Result<Recital> {
  const recitals = readRecitals(text, idiom, catalogue, assumed);
  if (!recitals.ok) return recitals;
  const chosen = chooseRecital(recitals.value);
  return chosen ? ok(chosen) : refuse({ code: "backup-foreign", message: "No read-out was found in this text" });
}

/** What a read-out is read as. */
interface Origin {
  readonly idiom: Idiom;
  readonly release: Firmware;
  readonly identity: Identity;
  readonly assumed: boolean;
  /** Somebody named the release. */
  readonly saidSo?: boolean;
  readonly extent?: "all" | "moved";
}

/** The statements of a span, its first and last line, and what the closing line says of them. */
function judgeSpan(read: ReadText, span: Span, idiom: Idiom) {
  const clauses = read.clauses.slice(span.first, span.last + 1);
  const first = topOf(read.clean, clauses[0]?.line ?? 1, idiom);
  const last = bottomOf(read.clean, clauses.at(-1)?.line ?? first, idiom);
  return { span, clauses, first, last, closing: judgeEnd(read, { first, last }, clauses, idiom) };
}

/**
 * The line with which a text ends before it is over: without its closing line where the language has one, without a line
 * end where it has none. What it says may be cut off. A line with a check of its own, or a record, ends by itself.
 */
function tornLine(read: ReadText, clauses: readonly ReadClause[], idiom: Idiom): number | undefined {
  const { end, endSection } = idiom.recital;
  const closes = endSection !== undefined || (end !== undefined && end.at !== "head");
  const last = clauses.findLast(({ statements }) => statements.some(meansSomething));
  if (!last || idiom.style === "record") return undefined;
  if (idiom.text.lineCheck !== undefined && last.fault === undefined && last.unchecked !== true) return undefined;
  if (closes)
    return clauses.some(({ statements }) => statements.some(({ kind }) => kind === "end")) ? undefined : last.line;
  const line = read.lines.at(-1);
  return line?.end === "" && last.line === line.number ? last.line : undefined;
}

/** Whether values come in the order of the release's settings, one scope after the other: then none comes twice. */
function inOrder(entries: readonly SettingEntry[], { settings }: Firmware): boolean {
  const scopes = new Set<string>();
  let scope = "";
  let place = 0;
  for (const entry of entries) {
    if (entry.scope !== scope) {
      if (scopes.has(entry.scope)) return false;
      scopes.add((scope = entry.scope));
      place = 0;
    }
    while (place < settings.length && settings[place]?.key !== entry.key) place++;
    if (place++ >= settings.length) return false;
  }
  return true;
}

/** A value that a text says twice for the same place, each time otherwise. */
function saidTwice({ settings }: Configuration, release: Firmware): SettingEntry | undefined {
  if (inOrder(settings, release)) return undefined;
  const said = new Map<string, SettingEntry>();
  return settings.find((entry) => {
    const id = addressId(entry);
    const before = said.get(id);
    said.set(id, entry);
    const type = indexOf(release).settings.get(entry.key)?.type;
    return before !== undefined && type !== undefined && !equalValues(before.value, entry.value, type);
  });
}

function oneRecital(read: ReadText, found: Span, spans: readonly Span[], origin: Origin): Recital {
  const { idiom, release, identity, assumed } = origin;
  const near = judgeSpan(read, found, idiom);
  const isOff = near.closing.findings.some(({ against }) => against);
  const { span, clauses, first, last, closing } =
    isOff && found.further !== undefined ? judgeSpan(read, { ...found, last: found.further }, idiom) : near;
  const movedOnly =
    origin.extent === undefined
      ? identity.extent !== undefined && identity.extent === idiom.recital.movedWord
      : origin.extent === "moved";
  const readAs = (vouched: boolean) => {
    const torn = vouched ? undefined : tornLine(read, clauses, idiom);
    const vouching = { vouched, movedOnly, ...(torn === undefined ? {} : { torn }) };
    return { vouching, configuration: configurationOf(clauses, idiom, release, identity, vouching) };
  };
  const atItsWord = closing.fits && !assumed ? readAs(true) : undefined;
  const twice = atItsWord && saidTwice(atItsWord.configuration, release);
  // of so many texts one fits a check of 16 bits by chance: none that contradicts itself was printed like that
  const { vouching, configuration } = atItsWord && !twice ? atItsWord : readAs(false);
  const contradicts: Finding[] = twice
    ? [
        {
          against: false,
          look: true,
          text: "Its check fits, and yet it says a value twice, each time otherwise",
          line: twice.line,
        },
      ]
    : [];
  const outside = read.clauses.filter(
    (clause, i) =>
      (i < span.first || i > span.last) && clause.statements.some((s) => s.kind === "foreign" && s.stray === undefined),
  );
  const follows = spans.find((each) => each.first > span.last)?.first ?? read.clauses.length;
  const after = read.clauses.slice(span.last + 1, follows).filter((clause) => clause.statements.some(speaks));
  const completeness = judgeCompleteness({
    closing: [...closing.findings, ...contradicts],
    ...vouching,
    clauses,
    configuration,
    release,
    idiom,
    outside,
    after,
    readouts: spans.length,
    assumed,
    saidSo: origin.saidSo === true,
  });
  return {
    lines: read.lines,
    clauses: read.clauses,
    span: { first, last },
    idiom,
    release,
    configuration,
    completeness,
  };
}
