import { cellText, indexOf, releaseTitle, rowsFly, type Firmware, type TableDefinition } from "@/core/catalog";
import { equalValues, type Configuration, type TableRow, type Value } from "@/core/config";
import type { RowItem, RowPlace } from "@/core/carryover/plan";

type Cells = Readonly<Record<string, Value>>;

/** Whether two rows of a table say the same; what one does not write stands at its column's default. */
export const sayAlike = ({ columns }: Pick<TableDefinition, "columns">, a: Cells, b: Cells): boolean =>
  columns.every(({ name, default: d, type }) => equalValues(a[name] ?? d, b[name] ?? d, type));

export const rowText = ({ columns }: TableDefinition, cells: Cells): string =>
  columns.map((column) => cellText(column, cells[column.name] ?? column.default)).join(", ");

interface Sides {
  readonly source: Configuration;
  readonly from: Firmware;
  readonly to: Firmware;
  /** What becomes of a row of the release before. */
  readonly asBefore: (row: TableRow) => RowItem;
}

/** A table of the destination beside the one that it was, and what the rows of that would be here. */
interface Beside {
  readonly before: TableDefinition;
  readonly there: TableDefinition;
  readonly passed: readonly RowItem[];
}

function besideOf(before: TableDefinition, { to, asBefore }: Sides): Beside | undefined {
  const passed = before.rows.map((row) => asBefore({ table: before.name, ...row, line: 0 }));
  const there = indexOf(to).tables.get(passed[0]?.table ?? before.name);
  return there && { before, there, passed };
}

/** Rows that nobody set follow the release's own: where that is another row now, a person is asked, as for values. */
function asked(item: RowItem, { before, there }: Beside, to: Firmware): RowItem {
  const { from, to: place } = item;
  const own = from && before.rows.find(({ key }) => key === from.key);
  if (
    item.outcome === "cannot-be-here" ||
    !from ||
    !place ||
    !own ||
    item.choices.length > 0 ||
    !sayAlike(before, from.cells, own.cells)
  )
    return item;
  const now = there.rows.find(({ key }) => key === place.key);
  if (now && sayAlike(there, now.cells, place.cells)) return item;
  const keep = { id: "keep", label: `Keep ${rowText(there, place.cells)}`, row: place };
  const take = now
    ? { id: "take-default", label: `Take ${rowText(there, now.cells)}`, row: { key: now.key, cells: now.cells } }
    : { id: "leave-out", label: "Leave it out", means: `${releaseTitle(to)} has no such row on an erased board.` };
  return {
    ...item,
    outcome: "your-call",
    call: "silent",
    loss: "look",
    reason: "Nobody set it, and the release’s own row moved",
    choices: [keep, take],
  };
}

const newRow = (
  { name, title, area }: TableDefinition,
  { key, cells }: RowPlace,
  flies: boolean,
  to: Firmware,
): RowItem => {
  const why = `New in ${releaseTitle(to)}; a freshly erased board holds it`;
  return {
    kind: "row",
    id: `row ${name}/${key}`,
    table: name,
    title,
    area,
    flies,
    outcome: "new-default",
    loss: "none",
    reason: why,
    to: { key, cells },
    trail: [{ rule: "new", why }],
    choices: [],
  };
};

/**
 * Rows with the release's own rows in mind, on both sides. Rows that are new on an erased board come along only in a table
 * that nobody touched, all of whose rows have their place: else they might meet what somebody set.
 */
export function withDefaultRows(items: readonly RowItem[], sides: Sides): RowItem[] {
  const { from, to } = sides;
  if (from.id === to.id) return [...items];
  const byTable = new Map(
    from.tables.flatMap((table) => {
      const beside = besideOf(table, sides);
      return beside ? [[beside.there.name, beside] as const] : [];
    }),
  );
  const withBeside = items.map((item) => {
    const beside = byTable.get(item.table);
    return beside ? asked(item, beside, to) : item;
  });
  const fresh = [...byTable.values()].flatMap((beside) => {
    const { before, there, passed } = beside;
    const own = items.filter(({ table }) => table === there.name);
    const untouched =
      own.length === before.rows.length &&
      own.every(({ from: place, to: stands, outcome }) => {
        const row = place && before.rows.find(({ key }) => key === place.key);
        return (
          row !== undefined &&
          stands !== undefined &&
          outcome !== "cannot-be-here" &&
          sayAlike(before, place?.cells ?? {}, row.cells)
        );
      });
    if (!untouched) return [];
    const known = new Set([...passed, ...own].map(({ to: place }) => place?.key));
    return there.rows.filter(({ key }) => !known.has(key)).map((row) => newRow(there, row, rowsFly(there), to));
  });
  return [...withBeside, ...fresh];
}
