import {
  allFirmware,
  firmwareById,
  partOf,
  releaseTitle,
  type Catalogue,
  type Firmware,
  type PassageRule,
} from "@/core/catalog";
import { reverseRules } from "@/core/carryover/reverse";
import { ok, refuse, type Result } from "@/core/problem";

/** One step of the way between releases: by the rules of a passage, or by meanings that two families share. */
export interface Hop {
  readonly from: Firmware;
  readonly to: Firmware;
  readonly by: "passage" | "passage backwards" | "shared meanings";
  /** In the direction of the hop; empty for shared meanings. */
  readonly rules: readonly PassageRule[];
}

/** What a rule costs on a way: the more is lost or left to a person, the longer the way. */
const COST: Record<PassageRule["rule"], number> = {
  rename: 0.01,
  rescale: 0.05,
  map: 0.1,
  retire: 0.5,
  behaviour: 0.5,
  move: 0.3,
  split: 0.2,
  merge: 0.4,
  column: 0.01,
  cells: 0.05,
  renumber: 0.1,
  restrict: 0.5,
  ranges: 0.2,
};
const costOf = (rules: readonly PassageRule[]) => rules.reduce((sum, { rule }) => sum + COST[rule], 1);

/** Every hop that leads away from a release. Backwards costs more: what was retired on the way is lost. */
function hopsFrom(catalogue: Catalogue, release: Firmware): { hop: Hop; cost: number }[] {
  const hops: { hop: Hop; cost: number }[] = [];
  for (const later of allFirmware(catalogue))
    for (const passage of later.passages)
      if (passage.from === release.id)
        hops.push({
          hop: { from: release, to: later, by: "passage", rules: passage.rules },
          cost: costOf(passage.rules),
        });
  for (const passage of release.passages) {
    const earlier = firmwareById(catalogue, passage.from);
    if (!earlier) continue;
    const rules = reverseRules(passage.rules, earlier);
    hops.push({
      hop: { from: release, to: earlier, by: "passage backwards", rules },
      cost: 1 + costOf(passage.rules),
    });
  }
  return hops;
}

const conceptsOf = (release: Firmware) => new Set(release.settings.flatMap((s) => (s.concept ? [s.concept.id] : [])));

/** The way through the lineage that loses least (Dijkstra); equal ways are told apart by the releases' ids. */
function cheapest(catalogue: Catalogue, from: Firmware, to: Firmware): Hop[] | undefined {
  const open = new Map<string, { cost: number; way: Hop[] }>([[from.id, { cost: 0, way: [] }]]);
  const closed = new Set<string>();
  while (open.size > 0) {
    const [id, best] = [...open].reduce((a, b) =>
      b[1].cost < a[1].cost || (b[1].cost === a[1].cost && b[0] < a[0]) ? b : a,
    );
    if (id === to.id) return best.way;
    open.delete(id);
    closed.add(id);
    const release = firmwareById(catalogue, id);
    for (const { hop, cost } of release ? hopsFrom(catalogue, release) : []) {
      if (closed.has(hop.to.id)) continue;
      const total = best.cost + cost;
      if (total < (open.get(hop.to.id)?.cost ?? Infinity))
        open.set(hop.to.id, { cost: total, way: [...best.way, hop] });
    }
  }
  return undefined;
}

const LEAST_SHARED = 8;

/** The way from one release to another; none is needed within one. Refuses families that share too little. */
export function routeBetween(catalogue: Catalogue, from: Firmware, to: Firmware): Result<Hop[]> {
  if (from.id === to.id) return ok([]);
  const [here, there] = [partOf(from), partOf(to)];
  if (here !== there)
    return refuse({
      code: "other-part",
      message: `${releaseTitle(from)} and ${releaseTitle(to)} run on different parts`,
      detail: `${releaseTitle(from)}: ${here}; ${releaseTitle(to)}: ${there}`,
      hint: "Choose two releases of the same part",
    });
  const way = cheapest(catalogue, from, to);
  if (way) return ok(way);
  const theirs = conceptsOf(to);
  const shared = [...conceptsOf(from)].filter((id) => theirs.has(id)).length;
  if (shared >= LEAST_SHARED) return ok([{ from, to, by: "shared meanings", rules: [] }]);
  return refuse({
    code: "no-passage",
    message: `No passage is known from ${releaseTitle(from)} to ${releaseTitle(to)}`,
    detail: `Their lineages do not meet, and they share the meaning of ${shared} settings`,
    hint: "Import release documents that join them, or that say what their settings mean",
  });
}

/** “Family 1 → 2 → 3”: the releases of a way, family named where it changes. */
export function routeTitle(from: Firmware, way: readonly Hop[]): string {
  let family = from.family;
  const rest = way.map(({ to }) => {
    const told = to.family === family ? to.version : releaseTitle(to);
    family = to.family;
    return told;
  });
  return [releaseTitle(from), ...rest].join(" → ");
}
