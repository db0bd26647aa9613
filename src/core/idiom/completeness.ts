import { entriesByPlace, releaseTitle, slotsOf, type Release } from "@/core/catalog";
import type { Configuration } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition";
import { checkLines } from "@/core/idiom/check";
import type { ReadClause } from "@/core/idiom/statement";

/** One thing that the judgement rests on, in words. `against`: it speaks against completeness. */
export interface Finding {
  readonly against: boolean;
  readonly text: string;
  readonly line?: number;
}

/**
 * `complete`: every value of every profile is there and the text is whole.
 * `moved-only`: whole, but by its own word only what differs from the defaults.
 */
export interface Completeness {
  readonly verdict: "complete" | "moved-only" | "incomplete";
  readonly findings: readonly Finding[];
  readonly missingProfiles: readonly string[];
  readonly missingSettings: readonly string[];
}

interface Evidence {
  /** The read-out's own lines, without prompts and noise. */
  readonly clean: readonly { readonly number: number; readonly text: string }[];
  readonly clauses: readonly ReadClause[];
  readonly configuration: Configuration;
  readonly release: Release;
  readonly idiom: Idiom;
  readonly outside: readonly ReadClause[];
  readonly readouts: number;
  /** The text does not say what it comes from: it is read as of a release that its settings fit. */
  readonly assumed: boolean;
}

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;
const some = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");

/** What the closing statement says of the lines before it, where the idiom has one. */
function judgeEnd({ clean, clauses, idiom }: Evidence): Finding[] {
  const { end, endSection } = idiom.recital;
  if (!end && !endSection) return [];
  const at = clauses.findIndex((clause) => clause.statements.some((s) => s.kind === "end"));
  const closing = clauses[at];
  if (!closing)
    return [
      { against: true, text: "The closing line is missing: the read-out was cut off", line: clean.at(-1)?.number ?? 0 },
    ];
  const told = { lines: undefined as number | undefined, check: undefined as string | undefined };
  for (const statement of clauses.slice(at).flatMap((clause) => clause.statements))
    if (statement.kind === "end") Object.assign(told, statement);
  const before: string[] = [];
  for (const each of clean) if (each.number < closing.line) before.push(each.text);
  const { line } = closing;
  const findings: Finding[] = [];
  if (told.lines === undefined)
    findings.push({
      against: true,
      text: "The closing line was cut off: it does not say how many lines there are",
      line,
    });
  else if (told.lines !== before.length)
    findings.push({
      against: true,
      text: `The closing line counts ${count(told.lines, "line")}, ${before.length} are here`,
      line,
    });
  else
    findings.push({
      against: false,
      text: `The closing line counts ${count(told.lines, "line")}, and all are here`,
      line,
    });
  const check = end?.check ?? (endSection?.check === undefined ? undefined : "crc32");
  const found = check && checkLines(before, check);
  if (found !== undefined && told.check !== found)
    findings.push({
      against: true,
      text: `The check does not fit: the text says ${told.check ?? "none"}, its lines give ${found}`,
      line,
    });
  return findings;
}

/** Tables that were read out as a whole: a statement says that they begin anew, or that they have no row. */
function tablesBegun(clauses: readonly ReadClause[], idiom: Idiom): Set<string> {
  const begun = new Set<string>();
  for (const { statements } of clauses)
    for (const s of statements)
      if (s.kind === "clear") begun.add(s.table);
      else if ((s.kind === "section" || s.kind === "record") && s.number === idiom.recital.freshWord) begun.add(s.name);
  return begun;
}

/** Profile kinds whose active one the read-out does not say: after its last value it chooses each once more. */
function silentKinds({ clauses, configuration, release, idiom }: Evidence): string[] {
  if (release.profiles.length === 0) return [];
  const kinds = release.profiles.map((profile) => profile.kind);
  if (idiom.recital.activeSection !== undefined)
    return kinds.filter((kind) => configuration.active[kind] === undefined);
  const lastValue = clauses.findLastIndex(({ statements }) => statements.some((s) => s.kind === "set"));
  const after = clauses[lastValue]?.statements.slice() ?? [];
  const lastInIt = after.findLastIndex((s) => s.kind === "set");
  const chosen = [
    ...after.slice(lastInIt + 1),
    ...clauses.slice(lastValue + 1).flatMap((clause) => clause.statements),
  ].flatMap((s) => (s.kind === "select" ? [s.profile] : []));
  return kinds.filter((kind) => !chosen.includes(kind));
}

/** Judges by structure against the release's definition as well as by the text's own closing line. */
export function judgeCompleteness(evidence: Evidence): Completeness {
  const { configuration, release, idiom } = evidence;
  const findings: Finding[] = evidence.assumed
    ? [
        {
          against: true,
          text: `The text does not say what it comes from; its settings fit ${releaseTitle(release)}`,
          line: evidence.clauses[0]?.line ?? 0,
        },
      ]
    : judgeEnd(evidence);
  const present = entriesByPlace(configuration, release);
  const missing = slotsOf(release).filter((_, i) => present[i] === undefined);
  const movedOnly = configuration.identity.extent === idiom.recital.movedWord;
  const scopesHere = new Set<string>(configuration.settings.map((entry) => entry.scope));
  const missingProfiles = movedOnly
    ? []
    : release.profiles.flatMap((profile) =>
        Array.from({ length: profile.count }, (_, i) => `${profile.kind} ${i + 1}`).filter(
          (scope) => !scopesHere.has(scope),
        ),
      );
  const lone = missing.filter(({ scope }) => !missingProfiles.includes(scope));
  if (missingProfiles.length > 0)
    findings.push({ against: true, text: `Profiles are missing: ${some(missingProfiles)}` });
  if (movedOnly)
    findings.push({ against: false, text: "By its own word it holds only what differs from the defaults" });
  else if (lone.length > 0)
    findings.push({
      against: true,
      text: `${count(lone.length, "setting is", "settings are")} missing: ${some(lone.map((slot) => slot.id))}`,
    });
  if (!movedOnly && missing.length === 0)
    findings.push({ against: false, text: `All ${release.settings.length} settings are here, in every profile` });
  const begun = tablesBegun(evidence.clauses, idiom);
  const bareTables = release.tables.filter((table) => !begun.has(table.name));
  if (!movedOnly && bareTables.length > 0)
    findings.push({ against: true, text: `Tables are missing: ${some(bareTables.map((table) => table.name))}` });
  const silent = evidence.assumed ? [] : silentKinds(evidence);
  if (silent.length > 0)
    findings.push({ against: true, text: `It does not say which profile is active: ${some(silent)}` });
  if (configuration.unknown.length > 0)
    findings.push({
      against: false,
      text: `${count(configuration.unknown.length, "line was", "lines were")} not understood and kept as they are`,
    });
  if (evidence.readouts > 1)
    findings.push({
      against: false,
      text: `The text holds ${count(evidence.readouts, "read-out")}; this is one of them`,
    });
  if (evidence.outside.length > 0)
    findings.push({
      against: false,
      text: `${count(evidence.outside.length, "line")} of other text around it`,
      line: evidence.outside[0]?.line ?? 0,
    });
  const cut = findings.some((finding) => finding.against);
  return {
    verdict: cut ? "incomplete" : movedOnly ? "moved-only" : "complete",
    findings,
    missingProfiles,
    missingSettings: lone.map((slot) => slot.id),
  };
}
