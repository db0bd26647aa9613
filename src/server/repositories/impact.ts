import { firmwareById, MAIN_PART, partOf, type Catalogue, type Firmware } from "@/core/catalog";
import { fleetImpact, type FleetImpact } from "@/core/compare";
import { ProblemError, type Problem } from "@/core/problem";
import { saidByName, type PartName } from "@/core/part";
import { isSpoilt } from "@/server/repositories/blobs";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { newestParts } from "@/server/repositories/fleet-parts";
import { readingOf } from "@/server/repositories/readings";
import { listTypes, membersOf } from "@/server/repositories/standards";

/** What a release would do to a fleet; of a release for parts, the parts of each aircraft are told by where they are. */
export interface ReleaseImpact extends FleetImpact {
  /** Whose part each name of the impact stands for; empty where the boards themselves are meant. */
  readonly whose: Readonly<Record<string, { readonly tag: string; readonly part: PartName; readonly place: string }>>;
}

interface Subject {
  readonly name: string;
  readonly sha256: string;
}

async function boards(type: string): Promise<Subject[]> {
  const wanted = (await listTypes()).filter((each) => type === "" || each.type === type);
  const members = (await Promise.all(wanted.map((each) => membersOf(each.type)))).flat();
  return members.flatMap(({ tag, sha256 }) => (sha256 === null ? [] : [{ name: tag, sha256 }]));
}

/** What a release would do to all that it could be written to, of a type or of all types, by the newest read-out of each. */
export async function impactOn(releaseId: string, type: string): Promise<ReleaseImpact> {
  const catalogue = await loadCatalogue();
  const to = firmwareById(catalogue, releaseId);
  if (!to)
    throw new ProblemError({
      code: "release-unknown",
      message: `The catalogue has no release “${releaseId}”`,
      hint: "Import its release document under Firmware",
    });
  const kind = partOf(to);
  const parts =
    kind === MAIN_PART ? [] : (await newestParts(type)).filter(({ part }) => saidByName(part).part === kind);
  const named = parts.map((each) => ({ ...each, name: `${each.tag} ${each.place}` }));
  const subjects: readonly Subject[] = kind === MAIN_PART ? await boards(type) : named;
  return {
    ...(await onSubjects(subjects, to, catalogue)),
    whose: Object.fromEntries(named.map(({ name, tag, part, place }) => [name, { tag, part, place }])),
  };
}

const DAMAGED: Problem = {
  code: "blob-damaged",
  message: "The stored bytes of its newest read-out are damaged",
  hint: "Back it up on the bench again",
};

async function onSubjects(subjects: readonly Subject[], to: Firmware, catalogue: Catalogue): Promise<FleetImpact> {
  const fleet = [];
  const lost: FleetImpact["aircraft"][number][] = [];
  for (const { name, sha256 } of subjects.toSorted((a, b) => (a.name < b.name ? -1 : 1))) {
    const reading = await readingOf(sha256).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (reading) fleet.push({ tag: name, configuration: reading.configuration, release: reading.release });
    else lost.push({ tag: name, from: "not known", counts: {}, problem: DAMAGED });
  }
  const impact = fleetImpact(fleet, to, catalogue);
  return { ...impact, aircraft: [...impact.aircraft, ...lost] };
}
