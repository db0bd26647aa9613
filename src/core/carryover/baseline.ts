import { indexOf, type Belonging, type Firmware, type StarterSet } from "@/core/catalog";
import { addressId, equalValues, type Area, type Configuration } from "@/core/config";
import type { Choice, Plan, PlanItem, RowItem, RowPlace, SettingItem, Side, Whose } from "@/core/carryover/plan";

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

const belongingOf = (item: PlanItem, to: Firmware): Belonging => {
  if (item.kind === "line") return "board";
  if (item.kind === "row") return indexOf(to).tables.get(item.table)?.belongsTo ?? "type";
  return indexOf(to).settings.get(item.to?.key ?? item.id.slice(item.id.indexOf("/") + 1))?.belongsTo ?? "type";
};

/** What of the board's own is kept where nobody decided on the area: by what it belongs to. */
export const KEEPS: Readonly<Record<Whose, readonly Belonging[]>> = {
  "this-board": [],
  // another board in the same airframe: wiring and mounting are what they were
  "this-aircraft": ["board"],
  another: ["board", "airframe"],
};

/** What of the board's own is kept. */
export interface Keeping {
  readonly to: Firmware;
  readonly parts: Parts;
  /** What is kept by what it belongs to, where nobody decided on the area; calibration, wiring and name where nothing is said. */
  readonly belongs?: readonly Belonging[];
  /** Single places, by their address on the baseline's release. */
  readonly keep?: readonly string[];
}

/** Where an item stood on the release that its plan comes from: as a drift names the place. */
function placeBefore(item: PlanItem): string | undefined {
  if (item.kind === "line" || !item.from) return undefined;
  return item.kind === "row"
    ? `row ${item.table}/${item.from.key}`
    : addressId({ scope: (item.from as Side).scope, key: item.from.key });
}

/** Whether an item is the board's own. Lines that nobody understands are never dropped unseen. */
function isOwn(item: PlanItem, { parts, belongs = KEEPS.another, to }: Keeping, kept: ReadonlySet<string>): boolean {
  if (kept.has(item.id)) return true;
  const from = item.kind === "line" ? undefined : parts[item.area];
  return from === undefined ? belongs.includes(belongingOf(item, to)) : from === "board";
}

const KEPT = { rule: "kept", why: "Kept from what the board holds" } as const;

/**
 * A baseline's plan with the kept parts of the board's own in it: each place of the release exactly once. Both plans are
 * for the same release and target.
 */
export function baselinePlan(base: Plan, own: Plan, keeping: Keeping): Plan {
  const { to, keep = [] } = keeping;
  const places = new Set(base.items.flatMap((item) => (keep.includes(placeBefore(item) ?? "") ? [item.id] : [])));
  const named = new Set([...places, ...own.items.flatMap(({ id }) => (keep.includes(id) ? [id] : []))]);
  const kept = own.items.filter((item) => isOwn(item, keeping, named));
  const taken = new Set(kept.map(({ id }) => id));
  const rest = base.items
    .filter((item) => item.kind === "line" || !isOwn(item, keeping, named))
    .map((item) => (taken.has(item.id) ? { ...item, id: `baseline ${item.id}` } : item));
  const items = kept.map((item): PlanItem => ({ ...item, ofBoard: true, trail: [KEPT, ...item.trail] }));
  // which profile is in use is a place as well
  const active = Object.fromEntries(
    Object.entries(base.active).map(([kind, number]) => [
      kind,
      keep.includes(`active ${kind}`) ? (own.active[kind] ?? number) : number,
    ]),
  );
  return { ...base, active, items: [...rest, ...items.map((item) => askWhere(item, items, base, to))] };
}

/** What a row serves that nothing works without, by its table: the receiver, for one. */
const servesOf = ({ table, to: place }: RowItem, to: Firmware) =>
  indexOf(to)
    .tables.get(table)
    ?.without?.find(({ column, value }) => place?.cells[column] === value);

/**
 * A kept row on which something depends that stands elsewhere in the baseline: wires may have been moved, or somebody
 * clicked about. That no document can tell, so it is asked.
 */
function askWhere(item: PlanItem, kept: readonly PlanItem[], base: Plan, to: Firmware): PlanItem {
  if (item.kind !== "row" || !item.to || item.choices.length > 0) return item;
  const serves = servesOf(item, to);
  if (!serves) return item;
  const rowsIn = (items: readonly PlanItem[]) =>
    items.flatMap((each) =>
      each.kind === "row" && each.table === item.table && each.to ? [{ id: each.id, to: each.to }] : [],
    );
  const isSo = ({ to: { cells } }: { readonly to: RowPlace }) => cells[serves.column] === serves.value;
  const there = rowsIn(base.items).filter(isSo);
  const { key, cells } = item.to;
  const [meant] = there;
  if (!meant || there.some((each) => each.to.key === key)) return item;
  const name = item.title.toLowerCase();
  const at = rowsIn(kept).find((each) => each.to.key === meant.to.key);
  const instead = rowsIn(base.items).find((each) => each.to.key === key);
  const asBaseline: Choice =
    at && isSo(at)
      ? {
          id: "as-baseline",
          label: `Take it off: it stands on ${name} ${meant.to.key} as well`,
          ...(instead ? { row: instead.to } : {}),
          means: `${item.title} ${key} is what the baseline makes of it.`,
        }
      : {
          id: "as-baseline",
          label: `To ${name} ${meant.to.key}, as the baseline has it`,
          row: { key: meant.to.key, cells },
          ...(at ? { moves: { itemId: at.id, key } } : {}),
          means: `Only if it is wired to ${name} ${meant.to.key}.`,
        };
  return {
    ...item,
    outcome: "your-call",
    choices: [
      {
        id: "stay",
        label: `Leave it on ${name} ${key}`,
        row: item.to,
        means: `Only if it is wired to ${name} ${key}; the baseline has it on ${meant.to.key}.`,
      },
      asBaseline,
    ],
  };
}

/** How many places of an area the board holds otherwise than the baseline: what is of its type's making, and its own. */
export interface AreaDifference {
  readonly area: Area;
  readonly shared: number;
  readonly own: number;
}

export function baselineDifferences(base: Plan, own: Plan, to: Firmware): AreaDifference[] {
  const [mine, theirs] = [own, base].map(({ items }) => new Map(items.map((item) => [item.id, item])));
  const counts = new Map<Area, { shared: number; own: number }>();
  for (const id of new Set([...(mine?.keys() ?? []), ...(theirs?.keys() ?? [])])) {
    const [a, b] = [mine?.get(id), theirs?.get(id)];
    const item = a ?? b;
    if (!item || item.kind === "line" || standAlike(a, b, to)) continue;
    const { area } = item;
    const count = counts.get(area) ?? { shared: 0, own: 0 };
    count[belongingOf(item, to) === "type" ? "shared" : "own"]++;
    counts.set(area, count);
  }
  return [...counts].map(([area, count]) => ({ area, ...count }));
}

/** Whether two plans for one release and target put the same in a place; none where both put nothing. */
export function standAlike(a: PlanItem | undefined, b: PlanItem | undefined, to: Firmware): boolean {
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

/**
 * The areas that are to come from the baseline although they are an airframe's own: the board holds the release's defaults
 * there, so nobody ever wired or mounted it. `bare` is the plan of those defaults.
 */
export function partsNobodySet(base: Plan, own: Plan, bare: Plan, to: Firmware): Parts {
  const [atDefault, mine] = [bare, own].map(({ items }) => new Map(items.map((item) => [item.id, item])));
  const ofAirframe = base.items.filter(
    (item): item is SettingItem | RowItem =>
      item.kind !== "line" && item.outcome !== "left-out" && belongingOf(item, to) === "airframe",
  );
  const wanted = new Set(ofAirframe.filter((item) => !standAlike(item, atDefault?.get(item.id), to)).map(areaOf));
  const set = own.items.filter(
    (item): item is SettingItem | RowItem =>
      item.kind !== "line" && belongingOf(item, to) === "airframe" && !standAlike(item, atDefault?.get(item.id), to),
  );
  const lost = bare.items.filter((item): item is RowItem => item.kind === "row" && !mine?.has(item.id));
  const touched = new Set([...set, ...lost].map(areaOf));
  return Object.fromEntries(
    [...wanted].filter((area) => !touched.has(area)).map((area) => [area, "baseline" as const]),
  );
}

const areaOf = ({ area }: SettingItem | RowItem): Area => area;
