import type { TableDefinition } from "@/core/catalog";
import { formatValue, type Value } from "@/core/config";
import type { Idiom } from "@/core/idiom/definition/definition";
import type { Statement } from "@/core/idiom/reading/statement";

type RowStatement = Extract<Statement, { kind: "row" }>;

/** A row with its keys and cells told apart. */
export interface PartedRow {
  readonly keys: readonly string[];
  readonly cells: Readonly<Record<string, string>>;
  /** Why it cannot be parted. */
  readonly reason?: string;
}

const switches = (table: TableDefinition) => table.columns.filter(({ type }) => type.kind === "switch");
const others = (table: TableDefinition, { rows }: Idiom) =>
  rows.mask === true ? table.columns.filter(({ type }) => type.kind !== "switch") : table.columns;

/** A mask's bits as the switch columns, the lowest first; undefined where it has more of them than there are columns. */
function bitsOf(word: string, table: TableDefinition, idiom: Idiom): Record<string, string> | undefined {
  const columns = switches(table);
  const { on, off, base = 10, prefix = "" } = idiom.spelling;
  const digits = base !== 10 && word.toLowerCase().startsWith(prefix.toLowerCase()) ? word.slice(prefix.length) : word;
  if (!/^[0-9a-f]{1,10}$/i.test(digits)) return undefined;
  const mask = parseInt(digits, base);
  if (!Number.isSafeInteger(mask) || mask >= 2 ** columns.length) return undefined;
  return Object.fromEntries(columns.map(({ name }, i) => [name, Math.floor(mask / 2 ** i) % 2 === 1 ? on : off]));
}

/** The keys and cells of a row, where they stand by the places of their columns. */
export function partRow({ keys: words, cells, placed }: RowStatement, table: TableDefinition, idiom: Idiom): PartedRow {
  if (placed !== true) return { keys: words, cells };
  const columns = others(table, idiom);
  const masked = idiom.rows.mask === true && switches(table).length > 0;
  const [keys, rest] = [words.slice(0, table.keys.length), words.slice(table.keys.length)];
  const most = columns.length + (masked ? 1 : 0);
  if (rest.length > most || (rest.length < most && idiom.rows.sparse !== true))
    return {
      keys,
      cells: {},
      reason: `A row of ${table.name} has ${table.keys.length} keys and ${most} cells; here are ${words.length} words`,
    };
  const bits = masked ? bitsOf(rest.at(-1) ?? "", table, idiom) : {};
  if (!bits) return { keys, cells: {}, reason: `“${rest.at(-1) ?? ""}” is no mask of ${switches(table).length} bits` };
  const named = columns.slice(0, masked ? rest.length - 1 : rest.length);
  return { keys, cells: { ...Object.fromEntries(named.map(({ name }, i) => [name, rest[i] ?? ""])), ...bits } };
}

/** A row's cells as words in the order in which they are written, before quotes. */
export function cellWords(table: TableDefinition, cells: Readonly<Record<string, Value>>, idiom: Idiom): string[] {
  const { rows, rowSpelling, recital } = idiom;
  const shown = ({ name, type, default: fallback }: TableDefinition["columns"][number]) =>
    formatValue(cells[name] ?? fallback, type, rowSpelling);
  if (rows.cells !== "placed" && rows.mask !== true)
    return table.columns
      .filter(
        (column) => rows.sparse !== true || shown(column) !== formatValue(column.default, column.type, rowSpelling),
      )
      .map((column) => `${column.name}${recital.cellMark ?? "="}${shown(column)}`);
  const words = others(table, idiom).map(shown);
  const columns = switches(table);
  if (rows.mask !== true || columns.length === 0) return words;
  const mask = columns.reduce(
    (sum, { name, default: fallback }, i) => sum + ((cells[name] ?? fallback) === true ? 2 ** i : 0),
    0,
  );
  const { base = 10, prefix = "" } = idiom.spelling;
  return [...words, base === 10 ? String(mask) : prefix + mask.toString(base)];
}
