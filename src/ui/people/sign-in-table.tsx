"use client";

import { DataTable, type TableChoice, type TableColumn } from "@/ui/base/data-table";
import { Mark } from "@/ui/base/mark";
import { dayTime } from "@/ui/base/time";

export interface SignInView {
  readonly id: number;
  readonly at: number;
  readonly name: string;
  readonly address: string;
  readonly browser: string;
  readonly outcome: string;
  readonly detail: string;
}

const SAYS = {
  in: ["ok", "came in"],
  out: ["half", "went out"],
  refused: ["no", "refused"],
  throttled: ["no", "door closed, too many attempts"],
  unlocked: ["half", "door opened again"],
} as const;
const says = (outcome: string) =>
  Object.hasOwn(SAYS, outcome) ? SAYS[outcome as keyof typeof SAYS] : (["half", outcome] as const);

const COLUMNS: readonly TableColumn<SignInView>[] = [
  { id: "at", header: "When", sortBy: (row) => -row.id, cell: (row) => dayTime(row.at), width: "11rem" },
  { id: "name", header: "Account", sortBy: (row) => row.name, cell: (row) => row.name },
  {
    id: "outcome",
    header: "What",
    sortBy: (row) => row.outcome,
    cell: (row) => (
      <>
        <Mark mark={says(row.outcome)[0]} /> {says(row.outcome)[1]}
        {row.detail === "" ? "" : `: ${row.detail}`}
      </>
    ),
  },
  {
    id: "address",
    header: "From",
    sortBy: (row) => row.address,
    cell: (row) => <span className="key">{row.address}</span>,
  },
  { id: "browser", header: "With", sortBy: (row) => row.browser, cell: (row) => row.browser },
];
const CHOICES: readonly TableChoice<SignInView>[] = [
  { id: "outcome", label: "What", valueOf: (row) => says(row.outcome)[1] },
  { id: "account", label: "Account", valueOf: (row) => row.name },
];

export function SignInTable({ rows }: { readonly rows: readonly SignInView[] }) {
  return (
    <DataTable
      label="Sign-ins"
      rows={rows}
      columns={COLUMNS}
      searchText={(row) => `${row.name} ${row.address} ${row.browser} ${row.detail}`}
      choices={CHOICES}
      sortedBy="at.down"
      empty="Nobody has signed in yet."
    />
  );
}
