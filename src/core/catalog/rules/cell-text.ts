import { columnsOf, type ColumnDefinition, type TableDefinition } from "@/core/catalog/definition";
import { showValue, type Value } from "@/core/config";

export const columnNamed = (table: TableDefinition, name: string): ColumnDefinition | undefined =>
  columnsOf(table).find((column) => column.name === name);

export const titleIn = (table: TableDefinition, name: string): string =>
  columnNamed(table, name)?.title.toLowerCase() ?? name;

export const cellText = (column: ColumnDefinition, value: Value): string =>
  `${column.title.toLowerCase()} ${showValue(value, column.type)}`;
