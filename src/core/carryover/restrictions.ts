import {
  columnNamed,
  indexOf,
  kindOf,
  laterColumn,
  padPicture,
  portOf,
  rulesOn,
  type Firmware,
  type FirmwareTarget,
  type Release,
  type ReleaseTarget,
  type Restriction,
  type TableDefinition,
} from "@/core/catalog";
import type { RowPlace } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/roads";

/** A restriction in the words of the release after a hop. */
function readOn({ column, value, on, why }: Restriction, table: string, hop: Hop): Restriction {
  const rules = rulesOn(table, hop.rules);
  const name = column === undefined ? undefined : laterColumn(table, column, hop.rules);
  const [before, after] = [hop.from, hop.to].map((release) => indexOf(release).tables.get(table));
  const way = {
    before: before && columnNamed(before, column ?? ""),
    after: after && columnNamed(after, name ?? ""),
  };
  let [word, keys] = [value, on];
  for (const rule of rules) {
    const effect = kindOf(rule).table;
    // all rules of a passage speak of the column by its name before it
    if (column !== undefined && word !== undefined) word = effect?.cell?.(rule, column, word, way)?.value ?? word;
    keys = keys.map((key) => effect?.key?.(rule, key) ?? key);
  }
  return {
    ...(name === undefined ? {} : { column: name }),
    ...(word === undefined ? {} : { value: word }),
    on: keys,
    why,
  };
}

/** Where rows are to stand: the release and target at the end of a way, and the target that they stood on before. */
export interface Destination {
  readonly way: readonly Hop[];
  readonly to: Firmware;
  readonly target: FirmwareTarget | undefined;
  readonly before: string | undefined;
}

/** What the way and the destination's target let stand where, for the rows of one table. */
export function restrictionsOf(table: TableDefinition, destination: Destination): Restriction[] {
  const { way } = destination;
  let found: Restriction[] = [];
  for (const hop of way) {
    // what is new speaks of the release before, like the rules beside it
    const fresh = rulesOn(table.name, hop.rules).flatMap((rule) => kindOf(rule).table?.restricts?.(rule) ?? []);
    found = [...found, ...fresh].map((restriction) => readOn(restriction, table.name, hop));
  }
  return [...found, ...restrictionsOfTarget(table, destination)];
}

/** The ports that a target has; and, where the values come from another target, the pads that can drive something. */
function restrictionsOfTarget(table: TableDefinition, { to, target, before }: Destination): Restriction[] {
  const { ports, pads } = (target ?? {}) as Partial<ReleaseTarget>;
  if (!target || !ports || !pads) return [];
  const picture = "pictures" in to ? padPicture(to as Release) : undefined;
  if (table.name === picture?.ports.table || (picture === undefined && table.area === "ports"))
    return [{ on: ports.map(String), why: `${target.id} has no such port.` }];
  if (table.name !== picture?.outputs.table || before === undefined || before === target.id) return [];
  const { use } = picture.outputs;
  const type = table.columns.find(({ name }) => name === use)?.type;
  const driven = Object.keys(pads).filter((pad) => portOf(pads[pad] ?? "") === undefined && !picture.tables?.[pad]);
  const uses = type?.kind === "choice" ? type.options.filter((word) => !picture.nothing.includes(word)) : [];
  return uses.map((value) => ({ column: use, value, on: driven, why: `${target.id} has no such output.` }));
}

/** Whether a row cannot stand under its key; what it does not write stands at its column's default. */
export const blocks = (
  { column, value, on }: Restriction,
  { key, cells }: RowPlace,
  { columns }: Pick<TableDefinition, "columns">,
) =>
  !on.includes(key) &&
  (column === undefined || (cells[column] ?? columns.find(({ name }) => name === column)?.default) === value);
