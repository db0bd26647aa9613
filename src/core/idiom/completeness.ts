import { scopesOf, type Release } from "@/core/catalog";
import { addressId, settingsByAddress, type Configuration } from "@/core/config";
import { type Idiom } from "@/core/idiom/definition";
import { type SourceLine, type Statement } from "@/core/idiom/statement";

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
  readonly lines: readonly (SourceLine & { readonly statement: Statement })[];
  readonly configuration: Configuration;
  readonly release: Release;
  readonly idiom: Idiom;
  readonly outside: readonly SourceLine[];
  readonly readouts: number;
  readonly checkOf: (lines: readonly string[]) => string;
}

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;
const some = (names: readonly string[]) =>
  names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");

function judgeEnd({ lines, idiom, checkOf }: Evidence): Finding[] {
  if (!idiom.recital.end) return [];
  const at = lines.findIndex((line) => line.statement.kind === "end");
  const end = lines[at]?.statement;
  if (end?.kind !== "end")
    return [
      { against: true, text: "The closing line is missing: the read-out was cut off", line: lines.at(-1)?.number ?? 0 },
    ];
  const before = lines.slice(0, at).map((line) => line.text);
  const findings: Finding[] = [];
  const line = lines[at]?.number ?? 0;
  if (end.lines !== before.length)
    findings.push({
      against: true,
      text: `The closing line counts ${count(end.lines, "line")}, ${before.length} are here`,
      line,
    });
  else
    findings.push({
      against: false,
      text: `The closing line counts ${count(end.lines, "line")}, and all are here`,
      line,
    });
  if (end.check !== checkOf(before))
    findings.push({
      against: true,
      text: `The check does not fit: the text says ${end.check}, its lines give ${checkOf(before)}`,
      line,
    });
  return findings;
}

/** Judges by structure against the release's definition as well as by the text's own closing line. */
export function judgeCompleteness(evidence: Evidence): Completeness {
  const { configuration, release, idiom } = evidence;
  const findings: Finding[] = judgeEnd(evidence);
  const present = settingsByAddress(configuration);
  const missing = release.settings.flatMap((setting) =>
    scopesOf(release, setting)
      .map((scope) => ({ scope, key: setting.key }))
      .filter((address) => !present.has(addressId(address))),
  );
  const movedOnly = configuration.identity.extent === idiom.recital.movedWord;
  const missingProfiles = movedOnly
    ? []
    : release.profiles.flatMap((profile) =>
        Array.from({ length: profile.count }, (_, i) => `${profile.kind} ${i + 1}`).filter(
          (scope) => !configuration.settings.some((entry) => entry.scope === scope),
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
      text: `${count(lone.length, "setting is", "settings are")} missing: ${some(lone.map(addressId))}`,
    });
  if (!movedOnly && missing.length === 0)
    findings.push({ against: false, text: `All ${release.settings.length} settings are here, in every profile` });
  const bareTables = release.tables.filter(
    (table) => !evidence.lines.some((l) => l.statement.kind === "clear" && l.statement.table === table.name),
  );
  if (!movedOnly && bareTables.length > 0)
    findings.push({ against: true, text: `Tables are missing: ${some(bareTables.map((table) => table.name))}` });
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
      line: evidence.outside[0]?.number ?? 0,
    });
  const cut = findings.some((finding) => finding.against);
  return {
    verdict: cut ? "incomplete" : movedOnly ? "moved-only" : "complete",
    findings,
    missingProfiles,
    missingSettings: lone.map(addressId),
  };
}
