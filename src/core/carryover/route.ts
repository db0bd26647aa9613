import { partOf, releaseTitle, type Catalogue, type Firmware } from "@/core/catalog";
import { costOf, lengthOf, lossesOfRoute, type Losses } from "@/core/carryover/loss";
import type { Hop } from "@/core/carryover/hop";
import { roadsOf, type Walked } from "@/core/carryover/roads";
import { ok, refuse, type Result } from "@/core/problem";

const conceptsOf = (release: Firmware) => new Set(release.settings.flatMap((s) => (s.concept ? [s.concept.id] : [])));

/** So many hops are tried to do without, the longest first, and so many ways are held against the nearest. */
const MOST_TRIED = 8;
const MOST_OTHERS = 3;

interface Way {
  readonly hops: Hop[];
  readonly losses: Losses;
}

interface Routes {
  readonly best: Way;
  /** Other ways than the best, the best of them first. */
  readonly others: readonly Way[];
}

const wayOver = (hops: Hop[]): Way => ({ hops, losses: lossesOfRoute(hops) });
const costOfWay = ({ hops, losses }: Way) => costOf(losses) + hops.length * 0.01;

/**
 * The way that loses least, and others. Hops added up count twice what two of them lose, so what is near by that count
 * (the nearest, and the nearest without each of its hops) is held against what each loses as a whole.
 */
function waysOf(catalogue: Catalogue, from: Firmware, to: Firmware): Routes | undefined {
  const roads = roadsOf(catalogue);
  const nearest = roads.shortest(from, to);
  if (!nearest) return undefined;
  const first = nearest.route;
  const found = new Map<string, Walked>();
  for (const hop of first.toSorted((a, b) => lengthOf(b) - lengthOf(a)).slice(0, MOST_TRIED)) {
    const other = roads.shortest(from, to, hop);
    if (other) found.set(routeTitle(from, other.route), other);
  }
  const near = [...found.values()].toSorted((a, b) => a.length - b.length).slice(0, MOST_OTHERS);
  const straight = wayOver(first);
  const [best = straight, ...others] = [straight, ...near.map(({ route }) => wayOver(route))].toSorted(
    (a, b) => costOfWay(a) - costOfWay(b),
  );
  return { best, others };
}

const routes = new WeakMap<Catalogue, Map<string, Routes | undefined>>();

function knownWays(catalogue: Catalogue, from: Firmware, to: Firmware): Routes | undefined {
  let known = routes.get(catalogue);
  if (!known) routes.set(catalogue, (known = new Map<string, Routes | undefined>()));
  const pair = `${from.id} ${to.id}`;
  if (!known.has(pair)) known.set(pair, waysOf(catalogue, from, to));
  return known.get(pair);
}

const waysKnown = (catalogue: Catalogue, from: Firmware, to: Firmware): Routes | undefined =>
  from.id === to.id || partOf(from) !== partOf(to) ? undefined : knownWays(catalogue, from, to);

/** Ways that lose no less than the best, the best of them first; none within one release or by meanings alone. */
export const otherWays = (catalogue: Catalogue, from: Firmware, to: Firmware): readonly (readonly Hop[])[] =>
  waysKnown(catalogue, from, to)?.others.map(({ hops }) => hops) ?? [];

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
  const route = knownWays(catalogue, from, to);
  if (route) return ok(route.best.hops);
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
export function routeTitle(from: Firmware, route: readonly Hop[]): string {
  let family = from.family;
  const rest = route.map(({ to }) => {
    const title = to.family === family ? to.version : releaseTitle(to);
    family = to.family;
    return title;
  });
  return [releaseTitle(from), ...rest].join(" → ");
}

/** A way as people compare it: what each value of its first release would lose on it at worst. */
export interface RouteTold {
  readonly title: string;
  /** Ids of the releases that it goes through, both ends with it. */
  readonly through: readonly string[];
  readonly losses: Losses;
}

const tellWay = (from: Firmware, { hops, losses }: Way): RouteTold => ({
  title: routeTitle(from, hops),
  through: [from.id, ...hops.map(({ to }) => to.id)],
  losses,
});

/** The way that a carry-over takes, then others that lose no less. */
export function routesBetween(catalogue: Catalogue, from: Firmware, to: Firmware): RouteTold[] {
  const known = waysKnown(catalogue, from, to);
  if (known) return [known.best, ...known.others].map((each) => tellWay(from, each));
  const route = routeBetween(catalogue, from, to);
  return route.ok && route.value.length > 0 ? [tellWay(from, wayOver(route.value))] : [];
}
