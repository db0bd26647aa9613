import { Heap } from "heap-js";
import {
  allFirmware,
  firmwareById,
  partOf,
  releaseTitle,
  type Catalogue,
  type Firmware,
  type PassageRule,
} from "@/core/catalog";

import { costOf, lengthOf, lossesOfWay, type Losses } from "@/core/carryover/loss";
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

interface Leg {
  readonly hop: Hop;
  /** By what the hop loses at worst. */
  readonly length: number;
}

/** The hops that lead away from each release; those of one release are made when a search first comes by. */
class Roads {
  private readonly passages = new Map<string, Firmware[]>();
  private readonly legs = new Map<string, readonly Leg[]>();

  constructor(private readonly catalogue: Catalogue) {
    for (const later of allFirmware(catalogue))
      for (const { from } of later.passages) {
        const list = this.passages.get(from);
        if (list) list.push(later);
        else this.passages.set(from, [later]);
      }
  }

  from(release: Firmware): readonly Leg[] {
    const made = this.legs.get(release.id);
    if (made) return made;
    const legs = [...this.up(release), ...this.down(release)].map((hop) => ({ hop, length: lengthOf(hop) }));
    this.legs.set(release.id, legs);
    return legs;
  }

  private up(release: Firmware): Hop[] {
    const later = [...new Set(this.passages.get(release.id))];
    return later.flatMap((to) =>
      to.passages
        .filter(({ from }) => from === release.id)
        .map(({ rules }): Hop => ({ from: release, to, by: "passage", rules })),
    );
  }

  private down(release: Firmware): Hop[] {
    return release.passages.flatMap((passage): Hop[] => {
      const earlier = firmwareById(this.catalogue, passage.from);
      if (!earlier) return [];
      return [{ from: release, to: earlier, by: "passage backwards", rules: reverseRules(passage.rules, earlier) }];
    });
  }
}

const roads = new WeakMap<Catalogue, Roads>();
function roadsOf(catalogue: Catalogue): Roads {
  let found = roads.get(catalogue);
  if (!found) roads.set(catalogue, (found = new Roads(catalogue)));
  return found;
}

const conceptsOf = (release: Firmware) => new Set(release.settings.flatMap((s) => (s.concept ? [s.concept.id] : [])));

interface Reached {
  readonly id: string;
  readonly length: number;
  readonly release: Firmware;
  readonly last?: Hop;
  readonly before?: Reached;
}

const nearer = (a: Reached, b: Reached) => a.length - b.length || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

function wayTo(reached: Reached): Hop[] {
  const way: Hop[] = [];
  for (let at: Reached | undefined = reached; at?.last; at = at.before) way.push(at.last);
  return way.reverse();
}

/** The way through the lineage that loses least (Dijkstra, with a heap); equal ways are told apart by the releases' ids. */
function cheapest(catalogue: Catalogue, from: Firmware, to: Firmware, without?: Hop): Reached | undefined {
  const found = roadsOf(catalogue);
  const closed = new Set<string>();
  const best = new Map<string, number>([[from.id, 0]]);
  const open = new Heap<Reached>(nearer);
  open.push({ id: from.id, length: 0, release: from });
  for (let next = open.pop(); next; next = open.pop()) {
    if (next.id === to.id) return next;
    if (closed.has(next.id)) continue;
    closed.add(next.id);
    for (const { hop, length } of found.from(next.release)) {
      const total = next.length + length;
      if (hop === without || closed.has(hop.to.id) || total >= (best.get(hop.to.id) ?? Infinity)) continue;
      best.set(hop.to.id, total);
      open.push({ id: hop.to.id, length: total, release: hop.to, last: hop, before: next });
    }
  }
  return undefined;
}

/** So many hops are tried to do without, the longest first, and so many ways are held against the nearest. */
const MOST_TRIED = 8;
const MOST_OTHERS = 3;

interface Ways {
  readonly best: Hop[];
  /** Other ways than the best, the best of them first. */
  readonly others: readonly Hop[][];
}

const costOfWay = (way: readonly Hop[]) => costOf(lossesOfWay(way)) + way.length * 0.01;

/**
 * The way that loses least, and others. Hops added up count twice what two of them lose, so what is near by that count
 * (the nearest, and the nearest without each of its hops) is held against what each loses as a whole.
 */
function waysOf(catalogue: Catalogue, from: Firmware, to: Firmware): Ways | undefined {
  const nearest = cheapest(catalogue, from, to);
  if (!nearest) return undefined;
  const first = wayTo(nearest);
  const found = new Map<string, { way: Hop[]; length: number }>();
  for (const hop of first.toSorted((a, b) => lengthOf(b) - lengthOf(a)).slice(0, MOST_TRIED)) {
    const other = cheapest(catalogue, from, to, hop);
    if (other) found.set(routeTitle(from, wayTo(other)), { way: wayTo(other), length: other.length });
  }
  const near = [...found.values()].toSorted((a, b) => a.length - b.length).slice(0, MOST_OTHERS);
  const [best = first, ...others] = [first, ...near.map(({ way }) => way)]
    .map((way) => ({ way, cost: costOfWay(way) }))
    .toSorted((a, b) => a.cost - b.cost)
    .map(({ way }) => way);
  return { best, others };
}

const ways = new WeakMap<Catalogue, Map<string, Ways | undefined>>();

function knownWays(catalogue: Catalogue, from: Firmware, to: Firmware): Ways | undefined {
  let known = ways.get(catalogue);
  if (!known) ways.set(catalogue, (known = new Map<string, Ways | undefined>()));
  const pair = `${from.id} ${to.id}`;
  if (!known.has(pair)) known.set(pair, waysOf(catalogue, from, to));
  return known.get(pair);
}

/** Ways that lose no less than the best, the best of them first; none within one release or by meanings alone. */
export const otherWays = (catalogue: Catalogue, from: Firmware, to: Firmware): readonly (readonly Hop[])[] =>
  from.id === to.id || partOf(from) !== partOf(to) ? [] : (knownWays(catalogue, from, to)?.others ?? []);

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
  const way = knownWays(catalogue, from, to);
  if (way) return ok(way.best);
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

/** A way as people compare it: what each value of its first release would lose on it at worst. */
export interface WayTold {
  readonly title: string;
  /** Ids of the releases that it goes through, both ends with it. */
  readonly through: readonly string[];
  readonly losses: Losses;
}

const tellWay = (from: Firmware, way: readonly Hop[]): WayTold => ({
  title: routeTitle(from, way),
  through: [from.id, ...way.map(({ to }) => to.id)],
  losses: lossesOfWay(way),
});

/** The way that a carry-over takes, then others that lose no less. */
export function waysBetween(catalogue: Catalogue, from: Firmware, to: Firmware): WayTold[] {
  const way = routeBetween(catalogue, from, to);
  if (!way.ok || way.value.length === 0) return [];
  return [way.value, ...otherWays(catalogue, from, to)].map((each) => tellWay(from, each));
}
