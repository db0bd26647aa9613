"use client";

import {
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  tableFeatures,
  useTable,
  type ColumnDef,
  type SortingState,
} from "@tanstack/react-table";
import { useSearchParams } from "next/navigation";
import { useId, useMemo, useState, type ReactNode } from "react";
import { LongTable } from "@/ui/base/long-table";
import { Empty, FIELD_LOOK } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric },
});
type Features = typeof features;

export interface TableColumn<Row> {
  readonly id: string;
  readonly header: string;
  readonly sortBy: (row: Row) => string | number;
  readonly cell: (row: Row) => ReactNode;
  readonly width?: string;
}

/** One way to narrow the rows: its value stands in the URL under its id. */
export interface TableChoice<Row> {
  readonly id: string;
  readonly label: string;
  readonly valueOf: (row: Row) => string;
}

interface DataTableProps<Row extends object> {
  readonly label: string;
  readonly rows: readonly Row[];
  readonly columns: readonly TableColumn<Row>[];
  readonly searchText: (row: Row) => string;
  readonly choices?: readonly TableChoice<Row>[];
  readonly empty: ReactNode;
  /** Column that it is sorted by at first; with `.down`, the largest first. */
  readonly sortedBy: string;
  readonly allRows?: number;
}

/** Writes a part of the view's state into the URL without asking the server again. */
function keepInUrl(name: string, value: string): void {
  const url = new URL(window.location.href);
  if (value === "") url.searchParams.delete(name);
  else url.searchParams.set(name, value);
  window.history.replaceState(null, "", url);
}

/** A table that sorts, narrows and searches, and keeps all of it in the URL. */
export function DataTable<Row extends object>({
  label,
  rows,
  columns,
  searchText,
  choices = [],
  empty,
  sortedBy,
  allRows = 600,
}: DataTableProps<Row>) {
  const own = useId();
  const params = useSearchParams();
  const [query, setQuery] = useState(params.get("q") ?? "");
  const [chosen, setChosen] = useState<Record<string, string>>(() =>
    Object.fromEntries(choices.map((c) => [c.id, params.get(c.id) ?? ""])),
  );
  const [sorting, setSorting] = useState<SortingState>(() => {
    const [id = "", order] = (params.get("sort") ?? sortedBy).split(".");
    return [{ id, desc: order === "down" }];
  });
  const shown = useMemo(() => {
    const wanted = query.trim().toLowerCase();
    return rows.filter(
      (row) =>
        choices.every((c) => !chosen[c.id] || c.valueOf(row) === chosen[c.id]) &&
        searchText(row).toLowerCase().includes(wanted),
    );
  }, [rows, query, chosen, choices, searchText]);
  const definitions = useMemo(() => {
    return columns.map((column): ColumnDef<Features, Row> => ({
      id: column.id,
      header: column.header,
      accessorFn: column.sortBy,
      sortFn: "alphanumeric",
      cell: ({ row }) => column.cell(row.original),
    }));
  }, [columns]);
  const table = useTable({
    features,
    columns: definitions,
    data: shown,
    state: { sorting },
    onSortingChange: (next) => {
      const value = typeof next === "function" ? next(sorting) : next;
      setSorting(value);
      const [first] = value;
      keepInUrl("sort", first ? `${first.id}${first.desc ? ".down" : ""}` : "");
    },
  });
  const lines = table.getRowModel().rows;
  // another order or another choice of rows is another list
  const ids = useMemo(() => lines.map((row) => `${own}-${row.id}`), [lines, own]);
  const sorted = columns.find((column) => column.id === sorting[0]?.id)?.header.toLowerCase();
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-2 text-sm">
        <input
          type="search"
          aria-label={`Search ${label}`}
          placeholder="Search"
          value={query}
          onChange={(event) => {
            setQuery(event.target.value);
            keepInUrl("q", event.target.value);
          }}
          className={`${FIELD_LOOK.plain} w-44 placeholder:text-faded`}
        />
        {choices.map((choice) => (
          <Select
            key={choice.id}
            label={choice.label}
            says="beside"
            value={chosen[choice.id] ?? ""}
            none="any"
            options={[...new Set(rows.map(choice.valueOf))].toSorted().map((value) => ({ value, text: value }))}
            onValue={(next) => {
              setChosen({ ...chosen, [choice.id]: next });
              keepInUrl(choice.id, next);
            }}
          />
        ))}
        <span className="ml-auto text-faded">
          {shown.length} of {rows.length}
          {sorted === undefined ? "" : ` · sorted by ${sorted}`}
        </span>
      </div>
      <LongTable
        label={label}
        ids={ids}
        allRows={allRows}
        head={
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>
                {group.headers.map((header, i) => {
                  const order = header.column.getIsSorted();
                  return (
                    <th
                      key={header.id}
                      aria-sort={order === "asc" ? "ascending" : order === "desc" ? "descending" : "none"}
                      style={{ width: columns[i]?.width }}
                    >
                      <Press
                        look="bare"
                        className="min-h-6 font-semibold hover:text-ink"
                        onClick={() => header.column.toggleSorting()}
                      >
                        {columns[i]?.header}
                        <span aria-hidden="true">{order === "asc" ? " ↑" : order === "desc" ? " ↓" : ""}</span>
                      </Press>
                    </th>
                  );
                })}
              </tr>
            ))}
          </thead>
        }
        row={(index, { key, ...props }) => (
          <tr key={key} {...props}>
            {lines[index]?.getAllCells().map((cell) => (
              <td key={cell.id}>
                <table.FlexRender cell={cell} />
              </td>
            ))}
          </tr>
        )}
      >
        {shown.length === 0 && <Empty>{rows.length === 0 ? empty : "Nothing fits what you search for."}</Empty>}
      </LongTable>
    </div>
  );
}
