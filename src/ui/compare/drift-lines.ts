import type { Drift, DriftColumn } from "@/core/compare";

/** One setting that a fleet does not hold alike, with what is held instead: as much of it as a person reads. */
export interface DriftLine extends Omit<DriftColumn, "says"> {
  /** Most widely held first. `more`: further aircraft that hold it. */
  readonly held: readonly { readonly shown: string; readonly tags: readonly string[]; readonly more: number }[];
  /** Further values that are held. */
  readonly others: number;
}

const SHOWN_VALUES = 4;
const SHOWN_TAGS = 3;

/** A fleet's drift by setting. What is sent to the browser does not grow with the fleet. */
export function driftLines(drift: Drift): DriftLine[] {
  const held = new Map<string, Map<string, string[]>>();
  for (const row of drift.rows)
    for (const cell of row.cells) {
      let values = held.get(cell.column);
      if (!values) held.set(cell.column, (values = new Map<string, string[]>()));
      const tags = values.get(cell.shown);
      if (tags) tags.push(row.tag);
      else values.set(cell.shown, [row.tag]);
    }
  return drift.columns.map(({ id, title, place, area, flies, standard, count }) => {
    const values = [...(held.get(id) ?? [])].toSorted((a, b) => b[1].length - a[1].length);
    return {
      ...{ id, title, place, area, flies, standard, count },
      held: values.slice(0, SHOWN_VALUES).map(([shown, tags]) => ({
        shown,
        tags: tags.slice(0, SHOWN_TAGS),
        more: Math.max(0, tags.length - SHOWN_TAGS),
      })),
      others: Math.max(0, values.length - SHOWN_VALUES),
    };
  });
}
