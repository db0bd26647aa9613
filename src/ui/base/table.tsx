import type { ReactNode } from "react";

/** One column: what stands at its head, and in each of its cells. */
export interface Column<Row> {
  readonly head: ReactNode;
  readonly cell: (row: Row, index: number) => ReactNode;
  /** Looks of its cells. */
  readonly look?: string | ((row: Row) => string);
  /** Looks of its head. */
  readonly headLook?: string;
  /** What is told of a cell when it is pointed at. */
  readonly hint?: (row: Row) => string | undefined;
  /** Its cells name their rows. */
  readonly names?: boolean;
  /** Numbers, held to the right with their head. */
  readonly counts?: boolean;
  /** How the column stands in the order of the rows. */
  readonly sort?: "none" | "ascending" | "descending";
}

interface TableProps<Row> {
  readonly label?: string;
  readonly rows: readonly Row[];
  readonly keyOf: (row: Row, index: number) => string | number;
  /** Those that are false are left out. */
  readonly columns: readonly (Column<Row> | false)[];
  readonly rowLook?: (row: Row) => string;
  /** By which links reach a row. */
  readonly rowId?: (row: Row) => string;
  readonly className?: string;
  /** Its head stays in sight while its rows are scrolled. */
  readonly headStays?: boolean;
  /** For tables whose lines need no head. */
  readonly bare?: boolean;
}

const lookOf = <Row,>({ look, counts }: Column<Row>, row: Row): string | undefined => {
  const own = typeof look === "function" ? look(row) : look;
  const held = counts ? "text-right tabular-nums" : "";
  return [held, own].filter(Boolean).join(" ") || undefined;
};

/** A table as short as what it tells: every row stands in the page, in the order given. */
export function Table<Row>({
  label,
  rows,
  keyOf,
  columns,
  rowLook,
  rowId,
  className,
  headStays = false,
  bare = false,
}: TableProps<Row>) {
  const shown = columns.filter((column) => column !== false);
  return (
    <table aria-label={label} className={className}>
      {!bare && (
        <thead className={headStays ? "sticky top-0 bg-sheet" : undefined}>
          <tr>
            {shown.map(({ head, headLook, counts, sort }, i) => (
              <th
                key={i}
                scope="col"
                aria-sort={sort}
                className={[counts ? "text-right" : "", headLook].filter(Boolean).join(" ") || undefined}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {rows.map((row, index) => (
          <tr key={keyOf(row, index)} id={rowId?.(row)} className={rowLook?.(row)}>
            {shown.map((column, i) => {
              const Cell = column.names ? "th" : "td";
              return (
                <Cell
                  key={i}
                  scope={column.names ? "row" : undefined}
                  title={column.hint?.(row)}
                  className={lookOf(column, row)}
                >
                  {column.cell(row, index)}
                </Cell>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
