import { openItems, planCarryover, routeBetween, routeTitle, settlePlan } from "@/core/carryover";
import { findTarget, releaseById, releaseTitle, type Firmware } from "@/core/catalog";
import type { Configuration } from "@/core/config";
import { defaultConfiguration, idiomOf, reciteLines } from "@/core/idiom";
import { ProblemError, valueOf } from "@/core/problem";
import { fileBackup, partsWith, type FiledPart } from "@/server/repositories/backups";
import { getBlob, isSpoilt } from "@/server/repositories/blobs";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import { makeStandard, standardById } from "@/server/repositories/standards";

/** Writes a configuration that was made here as the read-out that a board with it would print, and files it. */
export async function fileMerged(
  configuration: Configuration,
  release: Firmware,
  name: {
    readonly tag: string;
    readonly aircraftId: number | null;
    readonly account: string;
    readonly part?: FiledPart;
  },
): Promise<number> {
  const catalogue = await loadCatalogue();
  const document = catalogue.idioms.get(release.idiom);
  if (!document)
    throw new ProblemError({ code: "idiom-none", message: `The catalogue has no idiom “${release.idiom}”` });
  const { target } = configuration.identity;
  const identity = {
    family: release.family,
    release: release.version,
    builtOn: release.builtOn,
    ...(target === undefined ? {} : { target }),
  };
  const lines = reciteLines({ ...configuration, identity }, release, idiomOf(document), "all");
  const { id } = await fileBackup({
    raw: new TextEncoder().encode(`${lines.join("\n")}\n`),
    tag: name.tag,
    aircraftId: name.aircraftId,
    jobId: null,
    chipId: null,
    source: "merged",
    account: name.account,
    at: new Date().toISOString(),
    ...(name.part ? { part: name.part } : {}),
  });
  return id;
}

/**
 * What the backup of a standard was read out with stands with that of its next version as well: another release of the board
 * changes none of it. What is damaged does not come along.
 */
async function takePartsAlong(from: number, to: number, tag: string, account: string): Promise<void> {
  for (const { part: name, place, sha256 } of await partsWith(from)) {
    const raw = await getBlob(sha256).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (name === null || !raw) continue;
    const part = { name, place: place ?? name, withId: to };
    const filed = { tag, part, account, aircraftId: null, jobId: null, chipId: null, source: "merged" } as const;
    await fileBackup({ ...filed, raw, at: new Date().toISOString() });
  }
}

/**
 * The standard on another release, as its next version: carried over, silent changes all decided one way, limits
 * accepted, lines that nobody understands left out.
 */
export async function raiseStandard(
  standardId: number,
  releaseId: string,
  silent: "keep" | "take-default",
  account: string,
): Promise<number> {
  const standard = await standardById(standardId);
  if (!standard) throw new ProblemError({ code: "standard-none", message: "There is no such standard" });
  const catalogue = await loadCatalogue();
  const { configuration: source, release: from } = await readingOf(standard.sha256);
  const to = valueOf(releaseById(catalogue, releaseId));
  const target = findTarget(to, source.identity.target ?? "") ?? to.targets[0];
  if (!target)
    throw new ProblemError({ code: "target-missing", message: `${releaseTitle(to)} is built for no target` });
  const route = valueOf(routeBetween(catalogue, from, to));
  const plan = planCarryover({ source, from, to, target, route, whose: "this-board" });
  const decisions = Object.fromEntries(
    openItems(plan, {}).map((item) => {
      const wanted =
        item.choices.find((c) => c.id === silent) ?? item.choices.find((c) => c.id === "keep") ?? item.choices[0];
      return [item.id, wanted?.id ?? ""];
    }),
  );
  const settled = valueOf(settlePlan(plan, decisions, to));
  // what the plan leaves at its default is written too: a standard is complete
  const known = new Set(settled.configuration.settings.map((s) => `${s.scope}/${s.key}`));
  const rest = defaultConfiguration(to, target.id).settings.filter((s) => !known.has(`${s.scope}/${s.key}`));
  const configuration = {
    ...settled.configuration,
    settings: [...settled.configuration.settings, ...rest],
    identity: { target: target.id },
  };
  const backupId = await fileMerged(configuration, to, { tag: `${standard.type} standard`, aircraftId: null, account });
  await takePartsAlong(standard.backup_id, backupId, `${standard.type} standard`, account);
  const note = `Raised from standard ${standard.version}, ${routeTitle(from, route)}`;
  return makeStandard(standard.type, backupId, note, account);
}
