import { baselineDifferences, planUpdate, withStarter } from "@/core/carryover";
import { findRelease, releaseById, releaseTitle, type Catalogue, type Release } from "@/core/catalog";
import { defaultConfiguration, type Recital } from "@/core/idiom";
import { ProblemError, valueOf } from "@/core/problem";
import { lastComplete } from "@/server/repositories/backups";
import { readBay } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { readingOf } from "@/server/repositories/readings";
import { standardsOf } from "@/server/repositories/standards";
import type { BaselineChoice } from "@/contracts/answers/choices";

interface Base extends Omit<BaselineChoice, "differences" | "lack"> {
  readonly source: Pick<Recital, "configuration" | "release">;
}

/** The baselines that a board on a release can go back to: its type's newest standard, the defaults, its starter sets. */
async function basesOf(type: string, release: Release, target: string, catalogue: Catalogue): Promise<Base[]> {
  const [standard] = await standardsOf(type);
  const from = standard && catalogue.releases.get(standard.release_id ?? "");
  const defaults = defaultConfiguration(release, target, { target });
  return [
    ...(standard && from
      ? [
          {
            id: "standard",
            backupId: standard.backup_id,
            title: `${type} standard ${standard.version}, ${releaseTitle(from)}`,
            source: await readingOf(standard.sha256),
          },
        ]
      : []),
    ...release.starters.map((starter) => ({
      id: `starter ${starter.name}`,
      starter: starter.name,
      title: `Starter set: ${starter.airframe}`,
      source: { configuration: withStarter(defaults, starter), release },
    })),
    { id: "defaults", title: `Defaults of ${releaseTitle(release)}`, source: { configuration: defaults, release } },
  ];
}

/** The baselines for the board in a bay, with what each would change of what it holds. */
export async function baselineChoices(bayNo: number): Promise<readonly BaselineChoice[]> {
  const bay = (await readBay(bayNo))?.live;
  const aircraft = await aircraftById(bay?.aircraftId ?? 0);
  const catalogue = await loadCatalogue();
  const here = findRelease(catalogue, bay?.family, bay?.release);
  if (!aircraft || !here.ok || bay?.target === undefined) return [];
  const { target } = bay;
  const release = here.value;
  const newest = await lastComplete(aircraft.id);
  const own = newest && planUpdate(await readingOf(newest.sha256), release, target, catalogue);
  return (await basesOf(aircraft.type, release, target, catalogue)).map(({ source, ...base }) => {
    const plan = planUpdate(source, release, target, catalogue, "another");
    if (!plan.ok) return { ...base, lack: plan.problem.message };
    return own?.ok ? { ...base, differences: baselineDifferences(plan.value, own.value, release) } : base;
  });
}

/** Holds that a baseline can be gone back to, before a job is ordered for it; gives the standard's backup where it is one. */
export async function settleBase(
  wish: { readonly base: string },
  type: string,
  release: Release,
  target: string,
  catalogue: Catalogue,
): Promise<Pick<BaselineChoice, "backupId" | "starter" | "title">> {
  const base = (await basesOf(type, release, target, catalogue)).find(({ id }) => id === wish.base);
  if (!base)
    throw new ProblemError({
      code: "baseline-none",
      message: "There is no such baseline for this board",
      detail: wish.base,
      hint: "Look at the bay again: the type's standard or the release may have changed",
    });
  valueOf(releaseById(catalogue, release.id));
  valueOf(planUpdate(base.source, release, target, catalogue, "another"));
  const { backupId, starter, title } = base;
  return { ...(backupId === undefined ? {} : { backupId }), ...(starter === undefined ? {} : { starter }), title };
}
