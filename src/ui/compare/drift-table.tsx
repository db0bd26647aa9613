"use client";

import { Link } from "@/ui/base/link";
import { DataTable, type TableColumn } from "@/ui/base/data-table";
import { StateShape } from "@/ui/base/mark";
import type { DriftLine } from "@/ui/compare/drift-lines";

/** For many aircraft: setting by setting, what is held instead of the standard, and by whom. */
export function DriftTable({
  lines,
  standardRef,
}: {
  readonly lines: readonly DriftLine[];
  readonly standardRef: string;
}) {
  const columns: TableColumn<DriftLine>[] = [
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
      sortBy: (row) => row.held.length + row.others,
      cell: (row) => (
        <ul className="grid gap-0.5">
          {row.held.map(({ shown, tags, more }) => (
            <li key={shown}>
              <span className="key">{shown}</span>{" "}
              <span className="text-sm text-faded">
                {tags.map((tag) => (
                  <Link
                    key={tag}

                    className="mr-1.5"
                    href={`/compare?left=aircraft:${tag}&right=${standardRef}`}
                  >
                    {tag}
                  </Link>
                ))}
                {more > 0 && `and ${more} more`}
              </span>
            </li>
          ))}
          {row.others > 0 && <li className="text-sm text-faded">and {row.others} other values</li>}
        </ul>
      ),
    },
  ];
  return (
    <DataTable
      label="Off the standard"
      rows={lines}
      columns={columns}
      searchText={(row) => `${row.title} ${row.place} ${row.area}`}
      choices={[{ id: "area", label: "Area", valueOf: (row) => row.area }]}
      sortedBy="count.down"
      allRows={40}
      empty="Nothing differs from the standard."
    />
  );
}
