"use client";

import type { ProofLine, ProofResult } from "@/core/carryover";
import { DataTable, type TableChoice, type TableColumn } from "@/ui/base/data-table";
import { RESULT_SHAPE, StateShape } from "@/ui/base/mark";

const SAY: Record<ProofResult, string> = {
  took: "took",
  adjusted: "adjusted by the board",
  refused: "refused",
  missing: "missing",
  uninvited: "changed uninvited",
  "left-behind": "left behind",
  "could-not-come": "no place for it",
};

const ORDER: readonly ProofResult[] = [
  "refused",
  "missing",
  "uninvited",
  "adjusted",
  "left-behind",
  "took",
  "could-not-come",
];

const columns = (readBackId: number): TableColumn<ProofLine>[] => [
  {
    id: "result",
    header: "Result",
    width: "8rem",
    // what did not take comes first, then what is another value than before
    sortBy: (row) => `${ORDER.indexOf(row.result)} ${row.before === row.found ? 1 : 0}`,
    cell: (row) => (
      <span className="whitespace-nowrap">
        <StateShape shape={RESULT_SHAPE[row.result]} /> {SAY[row.result]}
      </span>
    ),
  },
  {
    id: "setting",
    header: "Setting",
    width: "24%",
    sortBy: (row) => row.title,
    cell: (row) => (
      <>
        {row.title}
        <span className="block key wrap-anywhere text-faded">{row.id.replace("system/", "")}</span>
      </>
    ),
  },
  {
    id: "before",
    header: "Was",
    sortBy: (row) => row.before,
    cell: (row) => <span className="key">{row.before || "—"}</span>,
  },
  {
    id: "planned",
    header: "Planned",
    sortBy: (row) => row.planned,
    cell: (row) => <span className="key">{row.planned || "—"}</span>,
  },
  {
    id: "found",
    header: "Read back",
    sortBy: (row) => row.found,
    cell: (row) => <span className="key">{row.found || "—"}</span>,
  },
  {
    id: "chain",
    header: "Where it comes from",
    sortBy: (row) => row.backupLine,
    cell: (row) => (
      <span className="text-[13.5px] leading-6">
        {row.backupLine > 0 ? (
          <a href={`/backups/${row.backupId}#line-${row.backupLine}`}>backup, line {row.backupLine}</a>
        ) : (
          "not in the backup"
        )}
        {row.why
          .filter((why) => why !== row.cause)
          .map((why) => (
            <span key={why} className="block text-faded">
              {why}
            </span>
          ))}
        {row.cause !== null && <b className="block">{row.cause}.</b>}
        <span className="block">
          {row.sentLine > 0 ? `sent in line ${row.sentLine}` : "not sent"}
          {row.readLine > 0 && (
            <>
              , <a href={`/backups/${readBackId}#line-${row.readLine}`}>read back in line {row.readLine}</a>
            </>
          )}
        </span>
      </span>
    ),
  },
];

const CHOICES: readonly TableChoice<ProofLine>[] = [
  { id: "took", label: "Result", valueOf: (row) => SAY[row.result] },
  { id: "area", label: "Area", valueOf: (row) => row.area },
];
const searchText = (row: ProofLine) => `${row.title} ${row.id} ${row.planned} ${row.found}`;

export function ProofTable({ rows, readBackId }: { readonly rows: readonly ProofLine[]; readonly readBackId: number }) {
  return (
    <DataTable
      label="Proof"
      rows={rows}
      columns={columns(readBackId)}
      searchText={searchText}
      choices={CHOICES}
      sortedBy="result"
      empty="Nothing was proved yet."
    />
  );
}
