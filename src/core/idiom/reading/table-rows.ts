import { indexOf, releaseTitle, type Firmware } from "@/core/catalog";
import type { OpenRow } from "@/core/idiom/reading/certainty";
import { lost, type Building, type Unkept } from "@/core/idiom/reading/landing";
import { placeOf, readCells, rowKey } from "@/core/idiom/reading/places";
import { partRow } from "@/core/idiom/reading/rows";
import type { Statement } from "@/core/idiom/reading/statement";

export function doubtTable({ rowDoubts }: Building, table: string, line: number, reason: string): void {
  if (!rowDoubts.some((doubt) => doubt.table === table && doubt.key === undefined))
    rowDoubts.push({ table, cause: "misplaced", reason, raw: "", line });
}

/** A table begins anew. Rows of it that were read before are a sign that lines changed their places. */
export function beginTable(building: Building, table: string, line: number): void {
  building.begun.add(table);
  building.table = table;
  const before = building.rows.filter((row) => row.table === table);
  if (before.length === 0) return;
  building.rows = building.rows.filter((row) => row.table !== table);
  if (building.vouched) return;
  doubtTable(building, table, line, "It begins twice");
  for (const row of before)
    building.rowDoubts.push({
      table,
      key: row.key,
      cause: "misplaced",
      reason: "It stands before the line that begins its table",
      raw: "",
      line: row.line,
    });
}

export function takeRow(building: Building, statement: Statement & { kind: "row" }, line: number, raw: string): Unkept {
  const { release, idiom } = building;
  const table = indexOf(release).tables.get(statement.table);
  if (!table) return lost(`${releaseTitle(release)} has no table of this name`);
  building.table = table.name;
  const parted = partRow(statement, table, idiom);
  const place = placeOf(statement.table, parted.keys.join(" "), idiom, release);
  const key = place.kind === "table" ? place.key : undefined;
  const read = readCells(parted.cells, table, idiom);
  const reason = parted.reason ?? read.reason;
  if (key === undefined || reason !== undefined) {
    const why = "The row does not fit the table's columns";
    const doubt = { table: table.name, cause: "unread" as const, reason: reason ?? why, raw, line };
    building.rowDoubts.push(key === undefined ? doubt : { ...doubt, key });
    return lost(why);
  }
  building.begun.add(table.name);
  const unsaid = idiom.rows.sparse === true ? table.columns.map((c) => [c.name, c.default] as const) : [];
  building.rows.push({ table: table.name, key, cells: { ...Object.fromEntries(unsaid), ...read.cells }, line });
  return undefined;
}

export function takeCell(building: Building, key: string, text: string, line: number, raw: string): Unkept {
  const { row } = building;
  const table = row && indexOf(building.release).tables.get(row.table);
  if (!row || !table) return undefined;
  if (building.brokenAt > 0 && readCells({ [key]: text }, table, building.idiom).reason === undefined) {
    doubtTable(building, row.table, line, "The line that says whose cells follow could not be read");
    return lost("The line that says which row it is of could not be read");
  }
  return putCell(building, row, [key, text], line, raw);
}

/** One cell of a row, which says each of them once. */
function putCell(
  building: Building,
  row: OpenRow,
  [column, text]: readonly [column: string, text: string],
  line: number,
  raw: string,
): Unkept {
  const table = indexOf(building.release).tables.get(row.table);
  if (!table) return undefined;
  const { cells, reason } = readCells({ [column]: text }, table, building.idiom);
  const doubt = { table: table.name, key: row.key, raw, line };
  if (reason !== undefined) {
    building.rowDoubts.push({ ...doubt, cause: "unread", reason });
    return lost(reason);
  }
  if (row.cells[column] !== undefined && !building.vouched) {
    building.rowDoubts.push({ ...doubt, cause: "misplaced", reason: `It says ${column} twice` });
    doubtTable(building, table.name, line, "The cells of two rows stand in one");
  }
  Object.assign(row.cells, cells);
  return undefined;
}

/** A cell that says itself which row it is of. */
export function takeCellOf(
  building: Building,
  said: Extract<Statement, { kind: "cell" }>,
  line: number,
  raw: string,
): Unkept {
  const { release, idiom, byCells } = building;
  const table = indexOf(release).tables.get(said.table);
  if (!table) return lost(`${releaseTitle(release)} has no table of this name`);
  building.table = table.name;
  const place = placeOf(table.name, rowKey(said.row, idiom), idiom, release);
  if (place.kind !== "table" || place.key === undefined) {
    const reason = `“${said.row}” is no key of ${table.name}`;
    doubtTable(building, table.name, line, reason);
    return lost(reason);
  }
  const id = `${table.name}/${place.key}`;
  let row = byCells.get(id);
  if (!row) {
    row = { table: table.name, key: place.key, cells: {}, line };
    byCells.set(id, row);
    building.rows.push(row);
    building.begun.add(table.name);
  }
  return putCell(building, row, [said.column, said.value], line, raw);
}

/** What a row that is said cell by cell leaves unsaid is at its default. */
export function fillUp(row: OpenRow, release: Firmware): void {
  for (const { name, default: fallback } of indexOf(release).tables.get(row.table)?.columns ?? [])
    row.cells[name] ??= fallback;
}
