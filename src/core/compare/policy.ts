import type { Drift, DriftCell } from "@/core/compare/fleet";

/** A difference from the standard that a lead allows: of an area or of one place, on one aircraft or on all of the type. */
export interface Allowance {
  readonly id: number;
  /** `area`: its name; `place`: the address of a setting or row on the standard's release. */
  readonly kind: "area" | "place";
  readonly name: string;
  readonly tag?: string;
  readonly reason: string;
  readonly account: string;
  /** Ms since 1970. */
  readonly at: number;
}

/** Which allowance lets a difference be; undefined: none does. What is not known is never allowed. */
export const allowing = (
  allowances: readonly Allowance[],
  tag: string,
  { column, unsure }: Pick<DriftCell, "column" | "unsure">,
  area: string,
): Allowance | undefined =>
  unsure === true
    ? undefined
    : allowances.find(
        (each) =>
          (each.tag === undefined || each.tag === tag) &&
          (each.kind === "area" ? each.name === area : each.name === column),
      );

export interface Judged {
  /** What nobody allowed. */
  readonly drift: Drift;
  /** How many differences each allowance lets be, by its id. */
  readonly allowed: ReadonlyMap<number, number>;
}

/** A drift without what is allowed. */
export function withoutAllowed(drift: Drift, allowances: readonly Allowance[]): Judged {
  const areas = new Map(drift.columns.map(({ id, area }) => [id, area]));
  const allowed = new Map<number, number>();
  const counts = new Map<string, number>();
  const rows = drift.rows.map((row) => ({
    ...row,
    cells: row.cells.filter((cell) => {
      const by = allowing(allowances, row.tag, cell, areas.get(cell.column) ?? "");
      if (by) allowed.set(by.id, (allowed.get(by.id) ?? 0) + 1);
      else counts.set(cell.column, (counts.get(cell.column) ?? 0) + 1);
      return by === undefined;
    }),
  }));
  const columns = drift.columns.flatMap((column) => {
    const count = counts.get(column.id) ?? 0;
    return count === 0 ? [] : [{ ...column, count }];
  });
  return { drift: { columns, rows }, allowed };
}
