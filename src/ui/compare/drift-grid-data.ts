import type { Drift } from "@/core/compare";

/** A fleet's drift as a matrix, small enough to be sent: texts stand once, cells are pairs of indexes. */
export interface DriftGridData {
  readonly settings: readonly {
    readonly title: string;
    readonly place: string;
    readonly standard: string;
    readonly flies: boolean;
    readonly count: number;
  }[];
  /** Those off the standard, the farthest first. */
  readonly aircraft: readonly string[];
  /** What is held instead, each text once. */
  readonly texts: readonly string[];
  /** For each aircraft: setting, text, setting, text … as indexes. */
  readonly cells: readonly (readonly number[])[];
}

/** The matrix of aircraft × differing settings; `onlyFlies` leaves out what does not change how they fly. */
export function driftGridData(drift: Drift, onlyFlies: boolean): DriftGridData {
  const columns = drift.columns.filter((column) => !onlyFlies || column.flies);
  const placeOf = new Map(columns.map((column, i) => [column.id, i]));
  const textAt = new Map<string, number>();
  const rows = drift.rows
    .map(({ tag, cells }) => {
      const pairs: number[] = [];
      for (const cell of cells) {
        const setting = placeOf.get(cell.column);
        if (setting === undefined) continue;
        let text = textAt.get(cell.shown);
        if (text === undefined) textAt.set(cell.shown, (text = textAt.size));
        pairs.push(setting, text);
      }
      return { tag, pairs };
    })
    .filter(({ pairs }) => pairs.length > 0)
    .toSorted((a, b) => b.pairs.length - a.pairs.length || (a.tag < b.tag ? -1 : 1));
  return {
    settings: columns.map(({ title, place, standard, flies, count }) => ({ title, place, standard, flies, count })),
    aircraft: rows.map(({ tag }) => tag),
    texts: [...textAt.keys()],
    cells: rows.map(({ pairs }) => pairs),
  };
}
