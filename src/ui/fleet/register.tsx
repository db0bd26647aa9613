"use client";

import Link from "next/link";
import { DataTable, type TableChoice, type TableColumn } from "@/ui/base/data-table";
import { Mark } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { age } from "@/ui/base/time";
import { standingOf, type RegisterEntry } from "@/ui/fleet/attention";

const CHOICES: readonly TableChoice<RegisterEntry>[] = [
  { id: "type", label: "Type", valueOf: (row) => row.type },
  { id: "firmware", label: "Firmware", valueOf: (row) => row.firmware },
];
const searchText = (row: RegisterEntry) =>
  `${row.tag} ${row.label} ${row.type} ${row.model} ${row.target} ${row.firmware} ${row.reason}`;

const columns = (now: number): TableColumn<RegisterEntry>[] => [
  {
    id: "tag",
    header: "Tag",
    sortBy: (row) => row.tag,
    width: "7rem",
    cell: (row) => (
      <Link href={`/aircraft/${row.tag}`} className="no-underline">
        <Plate tag={row.tag} />
      </Link>
    ),
  },
  {
    id: "type",
    header: "Type and work",
    sortBy: (row) => row.type,
    cell: (row) => (
      <>
        {row.type}
        <span className="block text-faded">{row.label}</span>
      </>
    ),
  },
  {
    id: "board",
    header: "Board and target",
    sortBy: (row) => row.model,
    cell: (row) => (
      <>
        {row.model}
        <span className="block key text-faded">{row.target}</span>
      </>
    ),
  },
  { id: "firmware", header: "Firmware", sortBy: (row) => row.firmware, cell: (row) => row.firmware },
  {
    id: "backup",
    header: "Complete backup",
    sortBy: (row) => row.completeAt ?? 0,
    cell: (row) =>
      row.completeAt === null
        ? row.lastVerdict === "moved-only"
          ? "moved values only"
          : "none"
        : age(row.completeAt, now),
  },
  {
    id: "state",
    header: "State",
    sortBy: (row) => standingOf(row, now).say,
    cell: (row) => {
      const { mark, say } = standingOf(row, now);
      return (
        <span className="flex items-baseline gap-2">
          <span className="translate-y-0.5">
            <Mark mark={mark} />
          </span>
          {row.job ? <Link href={`/jobs/${row.job.id}`}>{say}</Link> : say}
        </span>
      );
    },
  },
];

export function Register({ rows, now }: { readonly rows: readonly RegisterEntry[]; readonly now: number }) {
  return (
    <DataTable
      label="Fleet register"
      rows={rows}
      columns={columns(now)}
      searchText={searchText}
      choices={CHOICES}
      sortedBy="tag"
      empty="No aircraft yet. Add the first one above."
    />
  );
}
