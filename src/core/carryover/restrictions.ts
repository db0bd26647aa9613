import type { FirmwareTarget, ReleaseTarget, TableDefinition } from "@/core/catalog";
import type { Value } from "@/core/config";
import type { RowPlace } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/route";

/** Rows with this cell are possible under these keys only, in the words of the destination. */
export interface Restriction {
  readonly column?: string;
  readonly value?: Value;
  readonly on: readonly string[];
  readonly why: string;
}

/** What the way and the destination's target let stand where, for the rows of one table. */
export function restrictionsOf(
  table: TableDefinition,
  way: readonly Hop[],
  target: FirmwareTarget | undefined,
): Restriction[] {
  const found: Restriction[] = [];
  way.forEach((hop, i) => {
    for (const rule of hop.rules) {
      if (rule.rule !== "restrict" || rule.table !== table.name) continue;
      const later = way
        .slice(i + 1)
        .flatMap(({ rules }) => rules.filter((r) => "table" in r && r.table === table.name));
      let { column, value } = rule;
      let on: readonly string[] = rule.on;
      for (const next of later) {
        if (next.rule === "column" && next.column === column) column = next.to;
        else if (next.rule === "cells" && next.column === column) value = next.words[String(value)] ?? value;
        else if (next.rule === "renumber") on = on.map((key) => next.rows[key] ?? key);
      }
      found.push({ column, value, on, why: rule.why });
    }
  });
  const { ports } = (target ?? {}) as Partial<ReleaseTarget>;
  if (target && table.area === "ports" && ports)
    found.push({ on: ports.map(String), why: `${target.id} has no such port.` });
  return found;
}

export const blocks = ({ column, value, on }: Restriction, { key, cells }: RowPlace) =>
  !on.includes(key) && (column === undefined || cells[column] === value);
