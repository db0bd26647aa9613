import { indexOf, releaseTitle, type Firmware, type FirmwareTarget, type Restriction } from "@/core/catalog";
import { showValue } from "@/core/config";
import type { Choice, RowItem, RowPlace } from "@/core/carryover/plan";
import { blocks, restrictionsOf } from "@/core/carryover/restrictions";
import type { Hop } from "@/core/carryover/route";

interface Destination {
  readonly way: readonly Hop[];
  readonly to: Firmware;
  readonly target: FirmwareTarget | undefined;
}

/** Gives every row that cannot stand where it is its ways out: another place, or to leave it off by a lead's name. */
export function waysOut(items: readonly RowItem[], destination: Destination): RowItem[] {
  return items.map((item) => {
    if (item.outcome !== "cannot-be-here") return item;
    const table = indexOf(destination.to).tables.get(item.table);
    const restrictions = table ? restrictionsOf(table, destination.way, destination.target) : [];
    const choices = [...(item.to ? elsewhere(item, item.to, items, restrictions) : []), leaveOff(item, destination.to)];
    // it has no place of its own: only a choice gives it one
    return { ...item, to: undefined, choices };
  });
}

/** The keys under which the row could stand: free ones, and such whose row can take its place in turn. */
function elsewhere(
  item: RowItem,
  place: RowPlace,
  items: readonly RowItem[],
  restrictions: readonly Restriction[],
): Choice[] {
  const fits = (row: RowPlace) => !restrictions.some((restriction) => blocks(restriction, row));
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
