import { releaseById } from "@/core/catalog";
import { fleetImpact, type FleetImpact } from "@/core/compare";
import { valueOf } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import { listTypes, membersOf } from "@/server/repositories/standards";

/** What a release would do to all aircraft of a type, or of all types, by their newest complete read-outs. */
export async function impactOn(releaseId: string, type: string): Promise<FleetImpact> {
  const [catalogue, types] = [await loadCatalogue(), await listTypes()];
  const wanted = types.filter((each) => type === "" || each.type === type).map((each) => each.type);
  const members = (await Promise.all(wanted.map(membersOf))).flat().toSorted((a, b) => (a.tag < b.tag ? -1 : 1));
  const fleet = [];
  for (const { tag, sha256 } of members) {
    if (sha256 === null) continue;
    const { configuration, release } = await readingOf(sha256);
    fleet.push({ tag, configuration, release });
  }
  return fleetImpact(fleet, valueOf(releaseById(catalogue, releaseId)), catalogue);
}
