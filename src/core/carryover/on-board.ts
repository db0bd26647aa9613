import { indexOf, type Firmware } from "@/core/catalog";
import { showValue } from "@/core/config";
import { standAlike } from "@/core/carryover/baseline";
import { rowText } from "@/core/carryover/default-rows";
import { waysOf, type Decisions, type Plan, type PlanItem, type RowItem } from "@/core/carryover/plan";
import { destinedBy } from "@/core/carryover/settle";

/** What a place of the plan holds on the board now, and what it will hold. */
export interface PlaceOnBoard {
  readonly now: string;
  readonly then: string;
  readonly same: boolean;
}

/** A plan held against what is on the board that it is for. */
export interface OnBoard {
  /** By the plan's item. */
  readonly places: Readonly<Record<string, PlaceOnBoard>>;
  /** Rows that the board holds and the plan does not. */
  readonly gone: readonly RowItem[];
  readonly changes: number;
}

const NOTHING = "nothing";

/** An item as it would be written: as decided, or as it stands while nobody decided. */
function asWritten(plan: Plan, decisions: Decisions, to: Firmware): PlanItem[] {
  const decided = (item: PlanItem) => waysOf(item).some(({ id }) => id === decisions[item.id]);
  return destinedBy(plan, decisions).map((each): PlanItem => {
    const { item } = each;
    if (!decided(item) || item.kind === "line") return item;
    if (each.kind === "row") return { ...each.item, to: each.row };
    if (each.kind === "value") {
      const { scope, key, value } = each.entry;
      const type = indexOf(to).settings.get(key)?.type;
      return { ...each.item, to: { scope, key, value, shown: type ? showValue(value, type) : String(value) } };
    }
    return { ...item, to: undefined } as PlanItem;
  });
}

function shownIn(item: PlanItem | undefined, to: Firmware): string {
  if (!item || item.kind === "line" || !item.to) return NOTHING;
  if (item.kind === "setting") return item.to.shown;
  const table = indexOf(to).tables.get(item.table);
  return table ? rowText(table, item.to.cells) : NOTHING;
}

/**
 * Holds a plan against the board: `own` is the plan of the board's own read-out for the same release and target. Lines that
 * nobody understands and what the firmware keeps for itself are no places.
 */
export function onBoard(plan: Plan, own: Plan, decisions: Decisions, to: Firmware): OnBoard {
  const held = new Map(own.items.map((item) => [item.id, item]));
  const places: Record<string, PlaceOnBoard> = {};
  const met = new Set<string>();
  for (const item of asWritten(plan, decisions, to)) {
    const before = held.get(item.id);
    if (item.kind === "line" || item.id.startsWith("left ") || item.id.startsWith("baseline ")) continue;
    if (item.kind === "setting" && indexOf(to).settings.get(item.id.slice(item.id.indexOf("/") + 1)) === undefined)
      continue;
    met.add(item.id);
    const same = standAlike(before, item, to);
    places[item.id] = { now: shownIn(before, to), then: shownIn(item, to), same };
  }
  const gone = own.items.filter(
    (item): item is RowItem => item.kind === "row" && item.to !== undefined && !met.has(item.id),
  );
  const changes = Object.values(places).filter(({ same }) => !same).length + gone.length;
  return { places, gone, changes };
}
