import {
  kindOf,
  rulesOn,
  type FirmwareTarget,
  type PassageRule,
  type ReleaseTarget,
  type Restriction,
  type TableDefinition,
} from "@/core/catalog";
import type { RowPlace } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/route";

/** A restriction in the words of the release after these rules. */
function readOn({ column, value, on, why }: Restriction, rules: readonly PassageRule[]): Restriction {
  let [name, word, keys] = [column, value, on];
  for (const rule of rules) {
    const { table } = kindOf(rule);
    if (column !== undefined && word !== undefined)
      word = table?.cell?.(rule, column, word, { before: undefined, after: undefined })?.value ?? word;
    if (column !== undefined) name = table?.column?.(rule, column) ?? name;
    keys = keys.map((key) => table?.key?.(rule, key) ?? key);
  }
  return {
    ...(name === undefined ? {} : { column: name }),
    ...(word === undefined ? {} : { value: word }),
    on: keys,
    why,
  };
}

/** What the way and the destination's target let stand where, for the rows of one table. */
export function restrictionsOf(
  table: TableDefinition,
  way: readonly Hop[],
  target: FirmwareTarget | undefined,
): Restriction[] {
  let found: Restriction[] = [];
  for (const hop of way) {
    const rules = rulesOn(table.name, hop.rules);
    found = [
      ...found.map((restriction) => readOn(restriction, rules)),
      ...rules.flatMap((rule) => kindOf(rule).table?.restricts?.(rule) ?? []),
    ];
  }
  const { ports } = (target ?? {}) as Partial<ReleaseTarget>;
  if (target && table.area === "ports" && ports)
    found.push({ on: ports.map(String), why: `${target.id} has no such port.` });
  return found;
}

export const blocks = ({ column, value, on }: Restriction, { key, cells }: RowPlace) =>
  !on.includes(key) && (column === undefined || cells[column] === value);
