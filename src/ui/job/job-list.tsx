"use client";

import { Link } from "@/ui/base/link";
import { DataTable, type TableChoice, type TableColumn } from "@/ui/base/data-table";
import { Mark } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";

export interface JobSummary {
  readonly id: number;
  readonly tag: string;
  readonly headline: string;
  readonly bay: number;
  readonly orderedBy: string;
  readonly orderedAt: number;
  readonly state: "open" | "finished" | "stopped";
}

const STATE = { open: ["half", "open"], finished: ["ok", "signed off"], stopped: ["no", "stopped"] } as const;

const COLUMNS: readonly TableColumn<JobSummary>[] = [
  { id: "visit", header: "Visit", sortBy: (row) => -row.id, cell: (row) => row.id, width: "5rem" },
  {
    id: "tag",
    header: "Aircraft",
    sortBy: (row) => row.tag,
    cell: (row) => (
      <Link href={`/aircraft/${row.tag}`} className="no-underline">
        <Plate tag={row.tag} />
      </Link>
    ),
  },
  {
    id: "job",
    header: "Job",
    sortBy: (row) => row.headline,
    cell: (row) => <Link href={`/jobs/${row.id}`}>{row.headline}</Link>,
  },
  { id: "bay", header: "Bay", sortBy: (row) => row.bay, cell: (row) => row.bay },
  {
    id: "ordered",
    header: "Ordered",
    sortBy: (row) => row.orderedAt,
    cell: (row) => `${dayTime(row.orderedAt)} by ${row.orderedBy}`,
  },
  {
    id: "state",
    header: "State",
    sortBy: (row) => row.state,
    cell: (row) => (
      <>
        <Mark mark={STATE[row.state][0]} /> {STATE[row.state][1]}
      </>
    ),
  },
];
const CHOICES: readonly TableChoice<JobSummary>[] = [{ id: "state", label: "State", valueOf: (row) => row.state }];
const searchText = (row: JobSummary) => `${row.id} ${row.tag} ${row.headline} ${row.orderedBy}`;

export function JobList({ rows }: { readonly rows: readonly JobSummary[] }) {
  return (
    <DataTable
      label="Jobs"
      rows={rows}
      columns={COLUMNS}
      searchText={searchText}
      choices={CHOICES}
      sortedBy="visit"
      empty="No job yet. Put a board on the bench and order one there."
    />
  );
}
