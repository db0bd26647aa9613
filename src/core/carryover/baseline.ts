import { indexOf, type Release, type StarterSet } from "@/core/catalog";
import { addressId, equalValues, type Area, type Configuration } from "@/core/config";
import type { Plan, PlanItem } from "@/core/carryover/plan";

/** Where an area comes from: all of it from what the board holds, or all of it from the baseline. */
export const PART_FROM = ["board", "baseline"] as const;
export type PartFrom = (typeof PART_FROM)[number];
/** Areas that somebody decided on; of the others, what belongs to board and airframe is kept, the rest is the baseline's. */
export type Parts = Readonly<Partial<Record<Area, PartFrom>>>;

/** A configuration with a starter set's values laid over it. */
export function withStarter(configuration: Configuration, starter: StarterSet): Configuration {
  const values = new Map(starter.values.map((value) => [addressId(value), value.value]));
  return {
    ...configuration,
    settings: configuration.settings.map((setting) => {
      const value = values.get(addressId(setting));
      return value === undefined ? setting : { ...setting, value };
    }),
  };
}

const belongingOf = (item: PlanItem, to: Release) => {
  if (item.kind === "line") return "board";
  if (item.kind === "row") return indexOf(to).tables.get(item.table)?.belongsTo ?? "type";
  return indexOf(to).settings.get(item.to?.key ?? item.id.slice(item.id.indexOf("/") + 1))?.belongsTo ?? "type";
};

/** Whether an item is the board's own under a choice of parts. Lines that nobody understands are never dropped unseen. */
function isOwn(item: PlanItem, parts: Parts, to: Release): boolean {
  const from = item.kind === "line" ? undefined : parts[item.area as Area];
  return from === undefined ? belongingOf(item, to) !== "type" : from === "board";
}

const KEPT = { rule: "kept", why: "Kept from what the board holds" } as const;

/**
 * A baseline's plan with the kept parts of the board's own in it: each place of the release exactly once. Both plans are
 * for the same release and target.
 */
export function baselinePlan(base: Plan, own: Plan, parts: Parts, to: Release): Plan {
  const kept = own.items.filter((item) => isOwn(item, parts, to));
  const taken = new Set(kept.map(({ id }) => id));
  const rest = base.items
    .filter((item) => item.kind === "line" || !isOwn(item, parts, to))
    .map((item) => (taken.has(item.id) ? { ...item, id: `baseline ${item.id}` } : item));
  return {
    ...base,
    items: [...rest, ...kept.map((item): PlanItem => ({ ...item, ofBoard: true, trail: [KEPT, ...item.trail] }))],
  };
}

/** How many places of an area the board holds otherwise than the baseline: what is of its type's making, and its own. */
export interface AreaDifference {
  readonly area: Area;
  readonly shared: number;
  readonly own: number;
}

export function baselineDifferences(base: Plan, own: Plan, to: Release): AreaDifference[] {
  const [mine, theirs] = [own, base].map(({ items }) => new Map(items.map((item) => [item.id, item])));
  const counts = new Map<Area, { shared: number; own: number }>();
  for (const id of new Set([...(mine?.keys() ?? []), ...(theirs?.keys() ?? [])])) {
    const [a, b] = [mine?.get(id), theirs?.get(id)];
    const item = a ?? b;
    if (!item || item.kind === "line" || standAlike(a, b, to)) continue;
    const area = item.area as Area;
    const count = counts.get(area) ?? { shared: 0, own: 0 };
    count[belongingOf(item, to) === "type" ? "shared" : "own"]++;
    counts.set(area, count);
  }
  return [...counts].map(([area, count]) => ({ area, ...count }));
}

function standAlike(a: PlanItem | undefined, b: PlanItem | undefined, to: Release): boolean {
  if (a?.kind === "setting" && b?.kind === "setting") {
    if (!a.to || !b.to) return a.to === b.to;
    const type = indexOf(to).settings.get(a.to.key)?.type;
    return type !== undefined && equalValues(a.to.value, b.to.value, type);
  }
  if (a?.kind === "row" && b?.kind === "row") {
    const [left, right] = [a.to?.cells, b.to?.cells];
    if (!left || !right) return left === right;
    const columns = indexOf(to).tables.get(a.table)?.columns ?? [];
    return columns.every(({ name, default: d, type }) => equalValues(left[name] ?? d, right[name] ?? d, type));
  }
  // it has a place on one side only
  return (a ?? b)?.kind !== "row" || ((a ?? b) as { to?: unknown }).to === undefined;
}
