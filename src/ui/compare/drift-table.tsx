"use client";

import Link from "next/link";
import { useMemo } from "react";
import { type Drift, type DriftColumn } from "@/core/compare";
import { DataTable, type TableColumn } from "@/ui/base/data-table";
import { StateShape } from "@/ui/base/mark";

interface Row extends DriftColumn {
  /** What is held instead → who holds it, most first. */
  readonly held: readonly (readonly [shown: string, tags: readonly string[]])[];
}

const SHOWN_TAGS = 6;

function rowsOf(drift: Drift): Row[] {
  const held = new Map<string, Map<string, string[]>>();
  for (const row of drift.rows)
    for (const cell of row.cells) {
      const values = held.get(cell.column) ?? new Map<string, string[]>();
      held.set(cell.column, values);
      values.set(cell.shown, [...(values.get(cell.shown) ?? []), row.tag]);
    }
  return drift.columns.map((column) => ({
    ...column,
    held: [...(held.get(column.id) ?? [])].toSorted((a, b) => b[1].length - a[1].length),
  }));
}

/** For many aircraft: setting by setting, what is held instead of the standard, and by whom. */
export function DriftTable({ drift, standardRef }: { readonly drift: Drift; readonly standardRef: string }) {
  const rows = useMemo(() => rowsOf(drift), [drift]);
  const columns: TableColumn<Row>[] = [
    {
      id: "setting",
      header: "Setting",
      sortBy: (row) => row.title,
      width: "30%",
      cell: (row) => (
        <span className="flex items-baseline gap-2">
          <span className="translate-y-0.5">
            <StateShape shape={row.flies ? "triangle" : "half"} />
          </span>
          <span>
            {row.title}
            <span className="block key wrap-anywhere text-faded">{row.place}</span>
          </span>
        </span>
      ),
    },
    {
      id: "standard",
      header: "Standard",
      sortBy: (row) => row.standard,
      cell: (row) => <span className="key">{row.standard}</span>,
    },
    { id: "count", header: "Aircraft", sortBy: (row) => row.count, cell: (row) => row.count },
    {
      id: "held",
      header: "What is there instead",
      sortBy: (row) => row.held.length,
      cell: (row) => (
        <ul className="grid gap-0.5">
          {row.held.slice(0, 4).map(([shown, tags]) => (
            <li key={shown}>
              <span className="key">{shown}</span>{" "}
              <span className="text-sm text-faded">
                {tags.slice(0, SHOWN_TAGS).map((tag) => (
                  <Link key={tag} className="mr-1.5" href={`/compare?left=aircraft:${tag}&right=${standardRef}`}>
                    {tag}
                  </Link>
                ))}
                {tags.length > SHOWN_TAGS && `and ${tags.length - SHOWN_TAGS} more`}
              </span>
            </li>
          ))}
          {row.held.length > 4 && <li className="text-sm text-faded">and {row.held.length - 4} other values</li>}
        </ul>
      ),
    },
  ];
  return (
    <DataTable
      label="Off the standard"
      rows={rows}
      columns={columns}
      searchText={(row) => `${row.title} ${row.place} ${row.area}`}
      choices={[{ id: "area", label: "Area", valueOf: (row) => row.area }]}
      sortedBy="count"
      empty="Nothing stands off the standard."
    />
  );
}
