import { indexOf, releaseTitle, slotsOf, type Firmware } from "@/core/catalog";
import { addressId, doubtsOf, type Configuration } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition/definition";
import { checkDigits, checkFits, checkForm, isStrong, type CheckForm } from "@/core/idiom/definition/check";
import type { ReadClause, ReadText, Statement } from "@/core/idiom/reading/statement";

/**
 * One thing that the judgement rests on, in words. `against`: it speaks against completeness; `look`: it does not, and
 * should be seen all the same.
 */
export interface Finding {
  readonly against: boolean;
  readonly look?: boolean;
  readonly text: string;
  readonly line?: number;
}

/**
 * `complete`: every value of every profile is there, certain, and the text is whole.
 * `moved-only`: whole, but by its own word only what differs from the defaults.
 */
export interface Completeness {
  readonly verdict: "complete" | "moved-only" | "incomplete";
  readonly findings: readonly Finding[];
  readonly missingProfiles: readonly string[];
  readonly missingSettings: readonly string[];
}

interface Evidence {
  /** What the closing line says, judged. */
  readonly closing: readonly Finding[];
  /** The closing check fits. */
  readonly vouched: boolean;
  readonly movedOnly: boolean;
  readonly clauses: readonly ReadClause[];
  readonly configuration: Configuration;
  readonly release: Firmware;
  readonly idiom: Idiom;
  readonly outside: readonly ReadClause[];
  /** Statements behind its closing line, before another read-out begins. */
  readonly after: readonly ReadClause[];
  readonly readouts: number;
  /** The text does not say what it comes from: it is read as of a release that its settings fit. */
  readonly assumed: boolean;
  /** Somebody named the release that it is read as. */
  readonly saidSo: boolean;
}

/** The check that the idiom's closing statement carries. */
const closingCheck = ({ recital }: Idiom): CheckForm | undefined =>
  recital.end ? recital.end.check : recital.endSection?.check === undefined ? undefined : checkForm("crc32");

/** What a board or a person said besides the read-out's own statements. */
const UNCOUNTED: ReadonlySet<Statement["kind"]> = new Set(["blank", "echo", "answer", "comment"]);

const LINE_ENDS = { lf: "\n", crlf: "\r\n", none: "" } as const;

/** What a closing line's count and check are made over: lines, statements or the text as it came, up to the closing line. */
export function coveredText(parts: readonly string[], { recital }: Pick<Idiom, "recital">): string {
  const end = LINE_ENDS[recital.end?.lineEnds ?? "lf"];
  let covered = "";
  for (const part of parts) covered += part + end;
  return covered;
}

/** Lines from one number to another, both with them; they stand in ascending order. */
function linesWithin(
  lines: ReadText["clean"],
  { first, last }: { readonly first: number; readonly last: number },
): ReadText["clean"] {
  const from = lines.findIndex(({ number }) => number >= first);
  const to = lines.findLastIndex(({ number }) => number <= last);
  return from < 0 ? [] : lines.slice(from, to + 1);
}

/** Statements that a closing line counts. */
const countedIn = (clauses: readonly ReadClause[]): readonly ReadClause[] =>
  clauses.filter((each) => each.comment !== true && !each.statements.every(({ kind }) => UNCOUNTED.has(kind)));

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;
const some = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");

/**
 * What the closing statement says of the read-out's own lines (without prompts and noise), where the idiom has one. It
 * `fits` when a check over them vouches for every byte.
 */
export function judgeEnd(
  read: Pick<ReadText, "lines" | "clean">,
  span: { readonly first: number; readonly last: number },
  clauses: readonly ReadClause[],
  idiom: Idiom,
): { readonly findings: readonly Finding[]; readonly fits: boolean } {
  const { end, endSection } = idiom.recital;
  if (!end && !endSection) return { findings: [], fits: false };
  const at = clauses.findIndex((clause) => clause.statements.some((s) => s.kind === "end"));
  const closing = clauses[at];
  const leads = end?.at === "head";
  const what = leads ? "The first line" : "The closing line";
  if (!closing) {
    const text = leads
      ? "The line that counts the others is missing"
      : "The closing line is missing: the read-out was cut off";
    return {
      findings: [{ against: true, text, line: linesWithin(read.clean, span).at(-1)?.number ?? 0 }],
      fits: false,
    };
  }
  const ending = { lines: undefined as number | undefined, check: undefined as string | undefined };
  for (const clause of clauses.slice(at))
    for (const statement of clause.statements) if (statement.kind === "end") Object.assign(ending, statement);
  const { line } = closing;
  const covered = leads ? { first: line + 1, last: span.last } : { first: span.first, last: line - 1 };
  const before = linesWithin(read.clean, covered);
  const those = leads ? clauses.slice(at + 1) : clauses.slice(0, at);
  const counted = end?.counts === "statements" || end?.over === "statements" ? countedIn(those) : [];
  const there = (end?.counts === "statements" ? counted.length : before.length) + (end?.itself === true ? 1 : 0);
  // a closing line that counts nothing rests on its check alone
  const counts = endSection !== undefined || idiom.lines.some((form) => form.means === "end" && form.at.lines >= 0);
  const agrees = !counts || ending.lines === there;
  const text = !counts
    ? `${what} is here`
    : ending.lines === undefined
      ? `${what} was cut off: it does not say how many lines there are`
      : `${what} counts ${count(ending.lines, end?.counts === "statements" ? "statement" : "line")}, ${agrees ? "and all are here" : `${there} are here`}`;
  const findings: Finding[] = [{ against: !agrees, text, line }];
  const check = closingCheck(idiom);
  if (!check) return { findings, fits: false };
  const parts =
    end?.over === "source" ? linesWithin(read.lines, covered) : end?.over === "statements" ? counted : before;
  const texts = parts.map(({ text }) => text);
  const over = coveredText(texts, idiom);
  const fits = ending.check !== undefined && checkFits(ending.check, over, check, idiom.text.encoding);
  if (!fits)
    findings.push({
      against: true,
      text: `The check does not fit, so none of its values is proven: the text says ${ending.check ?? "none"}, its ${end?.over === "statements" ? "statements" : "lines"} give ${checkDigits(over, check, idiom.text.encoding)}`,
      line,
    });
  return { findings, fits: agrees && fits && isStrong(check) };
}

/** What stands in the text and cannot be relied on, by profile and area. */
function judgeDoubts({ configuration, release }: Evidence): Finding[] {
  const { values, rows } = doubtsOf(configuration);
  const { settings, tables } = indexOf(release);
  const findings: Finding[] = [];
  for (const [cause, say] of [
    ["misplaced", "In doubt"],
    ["unread", "Not readable"],
  ] as const) {
    const groups = new Map<string, number>();
    const found = values.filter((doubt) => doubt.cause === cause);
    for (const { scope, key } of found) {
      const group = `${scope}, ${settings.get(key)?.area ?? "unknown"}`;
      groups.set(group, (groups.get(group) ?? 0) + 1);
    }
    const [first] = found;
    if (!first) continue;
    const groupTexts = [...groups].map(([group, n]) => `${group} (${n})`);
    findings.push({
      against: true,
      text: `${say}: ${count(found.length, "value")} of ${some(groupTexts)}. ${first.reason}`,
      line: first.line,
    });
  }
  const stray = rows.filter(({ cause, key }) => cause !== "missing" || key !== undefined);
  const [first] = stray;
  if (first) {
    const named = ({ table, key }: (typeof stray)[number]) =>
      key === undefined ? `all of ${tables.get(table)?.title ?? table}` : `${tables.get(table)?.title ?? table} ${key}`;
    findings.push({
      against: true,
      text: `Rows in doubt: ${some([...new Set(stray.map(named))])}. ${first.reason}`,
      line: first.line,
    });
  }
  return findings;
}

/** What nothing in the text can vouch for. */
function judgeWitness({ vouched, movedOnly, configuration, idiom, assumed }: Evidence): Finding[] {
  const findings: Finding[] = [];
  const { unknown, identity } = configuration;
  if (unknown.length > 0)
    findings.push({
      // what is absent counts as a default there: it may be what these lines say
      against: movedOnly && !vouched,
      look: true,
      text: `${count(unknown.length, "line was", "lines were")} not understood and kept as they are`,
      line: unknown[0]?.line ?? 0,
    });
  const check = closingCheck(idiom);
  if (!assumed && movedOnly && check !== undefined && !isStrong(check))
    findings.push({
      against: false,
      look: true,
      text: "Its check is a weak one: lines that changed their places would not be noticed",
    });
  // a check in every line tells of lines that were altered, and of none that is lost
  if (!assumed && check === undefined)
    findings.push({
      against: false,
      look: true,
      text: `This console prints no check${idiom.text.lineCheck === undefined ? "" : " over the whole"}: a ${movedOnly ? "value" : "row"} that was lost on the way would not be noticed`,
    });
  if (!assumed && [...idiom.factFields.values()].includes("target") && identity.target === undefined)
    findings.push({ against: false, look: true, text: "It does not say which target it is from" });
  return findings;
}

/** Scopes of which a text says anything. Its values stand scope by scope: most of them need no look. */
function scopesHeld(configuration: Configuration): Set<string> {
  const held = new Set<string>();
  let last = "";
  for (const { scope } of configuration.settings) if (scope !== last) held.add((last = scope));
  for (const { scope, cause } of doubtsOf(configuration).values) if (cause !== "missing") held.add(scope);
  return held;
}

/** Judges by structure against the release's definition as well as by the text's own closing line. */
export function judgeCompleteness(evidence: Evidence): Completeness {
  const { configuration, release, movedOnly } = evidence;
  const doubts = doubtsOf(configuration);
  const findings: Finding[] = evidence.assumed
    ? [
        {
          against: true,
          text: `The text does not say what it comes from; its settings fit ${releaseTitle(release)}`,
          line: evidence.clauses[0]?.line ?? 0,
        },
      ]
    : [...evidence.closing];
  if (evidence.saidSo)
    findings.push({
      against: false,
      look: true,
      text: `It is read as ${releaseTitle(release)}${movedOnly ? ", moved values only," : ""} because somebody said so`,
    });
  const missing = doubts.values.filter(({ cause }) => cause === "missing");
  const held = scopesHeld(configuration);
  const missingProfiles = movedOnly
    ? []
    : release.profiles.flatMap((profile) =>
        Array.from({ length: profile.count }, (_, i) => `${profile.kind} ${i + 1}`).filter((scope) => !held.has(scope)),
      );
  const lone = missing.filter(({ scope }) => !missingProfiles.includes(scope)).map(addressId);
  if (missingProfiles.length > 0)
    findings.push({ against: true, text: `Profiles are missing: ${some(missingProfiles)}` });
  if (movedOnly)
    findings.push({ against: false, text: "By its own word it holds only what differs from the defaults" });
  if (lone.length > 0)
    findings.push({
      against: true,
      text: `${count(lone.length, "setting is", "settings are")} missing: ${some(lone)}`,
    });
  if (!movedOnly && doubts.values.length === 0 && slotsOf(release).length > 0)
    findings.push({ against: false, text: `All ${release.settings.length} settings are here, in every profile` });
  const bare = doubts.rows.filter(({ cause, key }) => cause === "missing" && key === undefined);
  if (bare.length > 0)
    findings.push({ against: true, text: `Tables are missing: ${some(bare.map(({ table }) => table))}` });
  if (doubts.active.length > 0 && !evidence.assumed)
    findings.push({ against: true, text: `It does not say which profile is active: ${some(doubts.active)}` });
  findings.push(...judgeDoubts(evidence), ...judgeWitness(evidence));
  if (evidence.readouts > 1)
    findings.push({
      against: false,
      look: true,
      text: `The text holds ${count(evidence.readouts, "read-out")}; this is one of them`,
    });
  if (evidence.outside.length > 0)
    findings.push({
      against: false,
      text: `${count(evidence.outside.length, "line")} of other text around it`,
      line: evidence.outside[0]?.line ?? 0,
    });
  if (evidence.after.length > 0)
    findings.push({
      against: false,
      look: true,
      text: `${count(evidence.after.length, "line")} after its closing line ${evidence.after.length === 1 ? "was" : "were"} not read as part of it`,
      line: evidence.after[0]?.line ?? 0,
    });
  const cut = findings.some((finding) => finding.against);
  return {
    verdict: cut ? "incomplete" : movedOnly ? "moved-only" : "complete",
    findings,
    missingProfiles,
    missingSettings: lone,
  };
}
