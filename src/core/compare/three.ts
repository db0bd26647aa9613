import { columnsOf, indexOf, rowsFly, slotsOf, type Catalogue } from "@/core/catalog";
import { equalValues, showValue, type Configuration, type TableRow, type Value } from "@/core/config";
import { arrive, settingHead, type Compared } from "@/core/compare/carry";
import { activeEntry, activeSide, openSide, type SideValue } from "@/core/compare/difference";
import { resolve, rowDoubtOf, type Resolved } from "@/core/compare/resolved";
import { sideOf } from "@/core/compare/two";
import { usualTake, type Change, type Take, type ThreeItem } from "@/core/compare/takes";
import { ok, type Result } from "@/core/problem";

export interface ThreeComparison {
  readonly items: readonly ThreeItem[];
  readonly counts: Readonly<Record<Change, number>>;
  readonly compared: number;
  /** How base and theirs were carried to the release of mine, where they are of others. */
  readonly carried: readonly string[];
  readonly sides: { readonly base: Resolved; readonly mine: Resolved; readonly theirs: Resolved };
}

function changeOf(mine: boolean, theirs: boolean, alike: boolean): Change | undefined {
  if (mine && theirs) return alike ? "both-alike" : "conflict";
  if (mine) return "mine";
  return theirs ? "theirs" : undefined;
}

/** Three configurations as of the release of mine: who changed what since the base. */
export function compareThree(
  base: Compared,
  mine: Compared,
  theirs: Compared,
  catalogue: Catalogue,
): Result<ThreeComparison> {
  const here = resolve(mine.configuration, mine.release);
  const target = mine.configuration.identity.target;
  const [from, other] = [
    arrive(base, mine.release, catalogue, target),
    arrive(theirs, mine.release, catalogue, target),
  ];
  if (!from.ok) return from;
  if (!other.ok) return other;
  const sides = { base: from.value.resolved, mine: here, theirs: other.value.resolved };
  const items = [...settingItems(sides), ...openItems(sides), ...rowItems(sides), ...activeItems(sides)];
  const counts: Record<Change, number> = { mine: 0, theirs: 0, "both-alike": 0, conflict: 0 };
  for (const item of items) counts[item.change]++;
  const carried = [from.value.route, other.value.route].filter((route): route is string => route !== undefined);
  return ok({ items, counts, compared: here.values.size + here.rows.size, carried, sides });
}

type Sides = ThreeComparison["sides"];

function settingItems({ base, mine, theirs }: Sides): ThreeItem[] {
  return [...mine.values].flatMap(([id, own]): ThreeItem[] => {
    const { setting, scope } = own;
    if (setting.housekeeping) return [];
    // what a side's release does not have, that side did not change
    if ([base, mine, theirs].some((each) => each.open.values.has(id))) return [];
    const old = base.values.get(id) ?? own;
    const other = theirs.values.get(id) ?? old;
    const same = (a: Value, b: Value) => equalValues(a, b, setting.type);
    const change = changeOf(!same(own.value, old.value), !same(other.value, old.value), same(own.value, other.value));
    if (change === undefined) return [];
    const side = (of: typeof own) => sideOf(of, setting.type);
    return [
      {
        ...settingHead({ id, setting, scope }),
        change,
        base: side(old),
        mine: side(own),
        theirs: side(other),
      },
    ];
  });
}

/** What a side leaves open is in conflict: nobody can tell who changed it, and only what is known can be taken. */
function openItems(sides: Sides): ThreeItem[] {
  const { base, mine, theirs } = sides;
  const ids = new Set([base, mine, theirs].flatMap(({ open }) => [...open.values.keys()]));
  const slots = new Map(slotsOf(mine.release).map((slot) => [slot.id, slot]));
  return [...ids].flatMap((id): ThreeItem[] => {
    const slot = slots.get(id);
    if (!slot || slot.setting.housekeeping) return [];
    const { setting, scope } = slot;
    const side = (of: Resolved): SideValue | undefined => {
      const doubt = of.open.values.get(id);
      const value = of.values.get(id);
      return doubt ? openSide(doubt) : value && sideOf(value, setting.type);
    };
    return [
      {
        ...settingHead({ id, setting, scope }),
        change: "conflict",
        ...threeSides(side, sides),
      },
    ];
  });
}

function threeSides(side: (of: Resolved) => SideValue | undefined, { base, mine, theirs }: Sides) {
  const [old, own, other] = [side(base), side(mine), side(theirs)];
  return { ...(old ? { base: old } : {}), ...(own ? { mine: own } : {}), ...(other ? { theirs: other } : {}) };
}

function rowItems({ base, mine, theirs }: Sides): ThreeItem[] {
  const ids = new Set([...base.rows.keys(), ...mine.rows.keys(), ...theirs.rows.keys()]);
  return [...ids].flatMap((id): ThreeItem[] => {
    const [old, own, other] = [base.rows.get(id), mine.rows.get(id), theirs.rows.get(id)];
    const any = own ?? other ?? old;
    const table = any && indexOf(mine.release).tables.get(any.table);
    if (!table) return [];
    const columns = columnsOf(table).filter((column) => !table.keys.includes(column));
    const show = (row: TableRow) =>
      columns.map((c) => `${c.title.toLowerCase()} ${showValue(row.cells[c.name] ?? c.default, c.type)}`).join(", ");
    const textOf = (row: TableRow | undefined) => (row ? show(row) : "no row");
    const doubts = (
      [
        [base, old],
        [mine, own],
        [theirs, other],
      ] as const
    ).map(([of, row]) => (row ? undefined : rowDoubtOf(of, any)));
    const change = doubts.some(Boolean)
      ? "conflict"
      : changeOf(textOf(own) !== textOf(old), textOf(other) !== textOf(old), textOf(own) === textOf(other));
    if (change === undefined) return [];
    const [oldDoubt, ownDoubt, otherDoubt] = doubts;
    const side = (row: NonNullable<typeof own>): SideValue => ({
      value: show(row),
      shown: show(row),
      explicit: row.explicit,
      line: row.line,
    });
    return [
      {
        id: `row ${id}`,
        kind: "row",
        title: `${table.title} ${any.key}`,
        place: `table ${table.name}`,
        area: table.area,
        says: "",
        flies: rowsFly(table),
        belongsTo: table.belongsTo,
        change,
        ...(old ? { base: side(old) } : oldDoubt ? { base: openSide(oldDoubt) } : {}),
        ...(own ? { mine: side(own) } : ownDoubt ? { mine: openSide(ownDoubt) } : {}),
        ...(other ? { theirs: side(other) } : otherDoubt ? { theirs: openSide(otherDoubt) } : {}),
      },
    ];
  });
}

function activeItems({ base, mine, theirs }: Sides): ThreeItem[] {
  return mine.release.profiles.flatMap(({ kind, title }): ThreeItem[] => {
    const of = (side: Resolved) => side.active[kind];
    const unsaid = [base, mine, theirs].some((each) => of(each) === undefined);
    const change = unsaid
      ? "conflict"
      : changeOf(of(mine) !== of(base), of(theirs) !== of(base), of(mine) === of(theirs));
    if (change === undefined) return [];
    const side = (value: number | undefined) => activeSide(kind, value);
    return [
      {
        ...activeEntry(kind, title),
        change,
        base: side(of(base)),
        mine: side(of(mine)),
        theirs: side(of(theirs)),
      },
    ];
  });
}

/** The configuration that the three make with these decisions, complete, on the release of mine. */
export function mergeThree(
  comparison: ThreeComparison,
  takes: Readonly<Record<string, Take>>,
): Pick<Configuration, "settings" | "rows" | "active" | "unknown"> & { readonly begun: readonly string[] } {
  const { sides, items } = comparison;
  const byId = new Map(items.map((item) => [item.id, item]));
  const takeOf = (id: string): Resolved => {
    const item = byId.get(id);
    return sides[(item && (takes[id] ?? usualTake(item.change))) ?? "mine"];
  };
  const settings = slotsOf(sides.mine.release).flatMap(({ id, scope, setting }) => {
    const taken = takeOf(id).values.get(id) ?? sides.mine.values.get(id);
    return taken ? [{ scope, key: setting.key, value: taken.value, raw: "", line: 0 }] : [];
  });
  const ids = new Set([...sides.base.rows.keys(), ...sides.mine.rows.keys(), ...sides.theirs.rows.keys()]);
  const rows = [...ids].flatMap((id): TableRow[] => {
    const row = takeOf(`row ${id}`).rows.get(id);
    return row ? [{ table: row.table, key: row.key, cells: row.cells, line: 0 }] : [];
  });
  const active = Object.fromEntries(
    sides.mine.release.profiles.map(({ kind }) => [kind, takeOf(`active ${kind}`).active[kind] ?? 1]),
  );
  const begun = sides.mine.release.tables.map((table) => table.name);
  return { settings, rows, begun, active, unknown: sides.mine.unknown };
}
