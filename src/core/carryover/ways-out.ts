import { indexOf, releaseTitle, type Firmware, type TableDefinition } from "@/core/catalog";
import { showValue, type Value } from "@/core/config";
import type { Choice, RowItem, RowPlace } from "@/core/carryover/plan";
import { blocks, restrictionsOf, type Destination } from "@/core/carryover/restrictions";

/** Gives every row that cannot stand where it is its ways out: another place, or to leave it off by a lead's name. */
export function waysOut(items: readonly RowItem[], destination: Destination): RowItem[] {
  const given = new Set<string>();
  return items.map((item) => {
    if (item.outcome !== "cannot-be-here") return item;
    const table = indexOf(destination.to).tables.get(item.table);
    const places = item.to && table ? elsewhere(item, item.to, items, table, destination) : [];
    const choices = [...likeliestFirst(places, item, destination.to, given), leaveOff(item, destination.to)];
    // it has no place of its own: only a choice gives it one
    return { ...item, to: undefined, choices };
  });
}

/**
 * First the place that the release itself gives to what the row does, then a free one; what was put first for another row is
 * not put first again, so that taking the first of each makes no two meet.
 */
function likeliestFirst(places: readonly Choice[], item: RowItem, to: Firmware, given: Set<string>): Choice[] {
  const own = indexOf(to)
    .tables.get(item.table)
    ?.rows.find(({ cells }) => sameCells(cells, item.to?.cells ?? {}))?.key;
  const open = places.filter(({ row, moves }) => row && !moves && !given.has(`${item.table}/${row.key}`));
  const first = open.find(({ row }) => row?.key === own) ?? open[0];
  if (!first?.row) return [...places];
  given.add(`${item.table}/${first.row.key}`);
  return [first, ...places.filter((place) => place !== first)];
}

/** What the release's own row says, the other says as well. */
const sameCells = (cells: Readonly<Record<string, Value>>, others: Readonly<Record<string, Value>>) =>
  Object.entries(cells).every(([name, value]) => others[name] === value);

/** The keys under which the row could stand: free ones, and such whose row can take its place in turn. */
function elsewhere(
  item: RowItem,
  place: RowPlace,
  items: readonly RowItem[],
  table: TableDefinition,
  destination: Destination,
): Choice[] {
  const restrictions = restrictionsOf(table, destination);
  const fits = (row: RowPlace) => !restrictions.some((restriction) => blocks(restriction, row, table));
  const keys = [...new Set(restrictions.flatMap(({ on }) => on))];
  const name = item.title.toLowerCase();
  return keys.flatMap((key): Choice[] => {
    const row = { key, cells: place.cells };
    if (key === place.key || !fits(row)) return [];
    const choice = {
      id: `to-${key}`,
      label: `Wire it to ${name} ${key}`,
      row,
      means: `Move its wires from ${name} ${place.key} to ${name} ${key}.`,
    };
    const there = items.find((other) => other !== item && other.table === item.table && other.to?.key === key);
    if (!there?.to || there.outcome === "cannot-be-here") return there ? [] : [choice];
    if (!fits({ key: place.key, cells: there.to.cells })) return [];
    return [
      {
        ...choice,
        label: `Wire it to ${name} ${key}, what is there to ${place.key}`,
        moves: { itemId: there.id, key: place.key },
        means: `Change the wires of ${name} ${place.key} and ${name} ${key} over.`,
      },
    ];
  });
}

function leaveOff(item: RowItem, to: Firmware): Choice {
  const table = indexOf(to).tables.get(item.table);
  const cells = Object.entries(item.from?.cells ?? {});
  const lacks = table?.without?.find(({ column, value }) =>
    cells.some(([name, cell]) => cell === value && (name === column || !table.columns.some((c) => c.name === name))),
  )?.says;
  const [first] = cells;
  const type = first && table?.columns.find((column) => column.name === first[0])?.type;
  const named = first ? ` (${type ? showValue(first[1], type) : String(first[1])})` : "";
  return {
    id: "leave-off",
    label: "Leave it off",
    by: "lead",
    means: lacks ?? `${item.title} ${item.from?.key ?? ""}${named} does not work on ${releaseTitle(to)} then.`,
  };
}
