import type { Configuration, TableRow } from "@/core/config";
import type { Firmware } from "@/core/catalog/release";

/**
 * The rows that a configuration means: those that it holds, and the default rows of tables that it does not write.
 * Where it does not say which tables it wrote, those that it holds are all. Implicit rows have line 0.
 */
export function rowsOf(configuration: Configuration, release: Firmware): TableRow[] {
  if (configuration.begun === undefined) return [...configuration.rows];
  const written = new Set([...configuration.begun, ...configuration.rows.map((row) => row.table)]);
  const implicit = release.tables
    .filter((table) => !written.has(table.name))
    .flatMap((table) => table.rows.map(({ key, cells }) => ({ table: table.name, key, cells, line: 0 })));
  return [...configuration.rows, ...implicit];
}
