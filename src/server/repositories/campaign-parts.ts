import { memberPlan, noPlan, type MemberPlan } from "@/core/campaign";
import { LOADER_PART, releaseTitle, type Catalogue, type PartRelease } from "@/core/catalog";
import { groupBy } from "@/core/group-by";
import { planOfAll, type Goal } from "@/core/job";
import { fittedParts, type PartName } from "@/core/part";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { newestParts } from "@/server/repositories/fleet-parts";
import { partStates, type PartState } from "@/server/repositories/fittings";
import { planFor } from "@/server/repositories/job-plans";
import { list } from "@/server/sql";

/** The release that a campaign brings parts to. */
export function partRelease(catalogue: Catalogue, releaseId: string): PartRelease {
  const found = catalogue.parts.get(releaseId);
  // a loader is replaced where a release wants a newer one, in the job that writes that
  if (found && found.part !== LOADER_PART) return found;
  throw new ProblemError({
    code: "release-unknown",
    message: `“${releaseId}” is no release that parts behind a board are brought to`,
    hint: "Choose one of those parts; a loader is replaced by the job of a release that wants a newer one",
  });
}

/** Tags of a type's aircraft on which every part of the release's kind runs it, by what was read of each last; without such a part nothing is left to do. */
export async function atPartRelease(type: string, releaseId: string): Promise<ReadonlySet<string>> {
  const catalogue = await loadCatalogue();
  const { part: kind } = partRelease(catalogue, releaseId);
  const { FittingRow, RegisterEntry } = getDb();
  const aircraft = await list(RegisterEntry, { where: { type }, attributes: ["id", "tag", "model_id"] });
  const said = groupBy(
    await list(FittingRow, {
      where: { aircraft_id: aircraft.map(({ id }) => id), part: kind },
      order: [["id", "desc"]],
    }),
    (row) => row.aircraft_id,
  );
  const read = new Map((await newestParts(type)).map((each) => [`${each.tag} ${each.part}`, each.release_id]));
  const isThere = ({ id, tag, model_id: modelId }: (typeof aircraft)[number]) => {
    const mount = said.get(id)?.[0]?.mount;
    return fittedParts(catalogue.models.get(modelId ?? ""), mount ? [mount] : [])
      .filter(({ part }) => part === kind)
      .every(({ name }) => read.get(`${tag} ${name}`) === releaseId);
  };
  return new Set(aircraft.filter(isThere).map(({ tag }) => tag));
}

/** The parts of an aircraft that are brought to a release: of its kind, those that run another one or were never read. */
export async function partsBroughtTo(
  { id, model_id: modelId }: { readonly id: number; readonly model_id: string | null },
  release: PartRelease,
): Promise<PartState[]> {
  const { parts } = await partStates(id, modelId);
  return parts.filter(({ part, read }) => part.part === release.part && read?.release.id !== release.id);
}

export const runsOf = (parts: readonly PartState[], releaseId: string): Record<PartName, string> =>
  Object.fromEntries(parts.map(({ part }) => [part.name, releaseId]));

/** What the parts of an aircraft meet in a campaign, by what was read of them last. */
export async function partsAhead(
  aircraft: { readonly id: number; readonly tag: string; readonly model_id: string | null },
  runs: string,
  releaseId: string,
  catalogue: Catalogue,
): Promise<MemberPlan> {
  const release = partRelease(catalogue, releaseId);
  const due = await partsBroughtTo(aircraft, release);
  const fitted = due.map(({ part }) => part);
  const goal: Goal = { kind: "parts", runs: { main: runs, ...runsOf(due, releaseId) }, fitted };
  const plans: [PartName, NonNullable<Awaited<ReturnType<typeof planFor>>>][] = [];
  for (const { part, read } of due) {
    const target = part.target ?? read?.target;
    const plan = read && (await planFor({ goal, target, taken: read.backupId, part: part.name }, catalogue));
    if (plan) plans.push([part.name, plan]);
  }
  const all = planOfAll(plans);
  const unread = due.flatMap(({ part, read }) => (read ? [] : [part.place]));
  return all
    ? memberPlan(aircraft.tag, all, unread)
    : noPlan(aircraft.tag, {
        code: "part-unread",
        message: `What goes over to ${releaseTitle(release)} was never read out: ${fitted.map(({ place }) => place).join(", ")}`,
        hint: "Its job reads them first, and shows the plan then",
      });
}
