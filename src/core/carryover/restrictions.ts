import {
  columnNamed,
  indexOf,
  kindOf,
  laterColumn,
  portOf,
  rulesOn,
  type FirmwareTarget,
  type Firmware,
  type ReleaseTarget,
  type Restriction,
  type TableDefinition,
} from "@/core/catalog";
import type { RowPlace } from "@/core/carryover/plan";
import type { Hop } from "@/core/carryover/hop";

/** A restriction in the words of the release after a hop. */
function readOn({ column, value, on, why }: Restriction, table: string, hop: Hop): Restriction {
  const rules = rulesOn(table, hop.rules);
  const name = column === undefined ? undefined : laterColumn(table, column, hop.rules);
  const [before, after] = [hop.from, hop.to].map((release) => indexOf(release).tables.get(table));
  const context = {
    before: before && columnNamed(before, column ?? ""),
    after: after && columnNamed(after, name ?? ""),
  };
  let [word, keys] = [value, on];
  for (const rule of rules) {
    const effect = kindOf(rule).table;
    // all rules of a passage speak of the column by its name before it
    if (column !== undefined && word !== undefined) word = effect?.cell?.(rule, column, word, context)?.value ?? word;
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
  readonly route: readonly Hop[];
  readonly to: Firmware;
  readonly target: FirmwareTarget | undefined;
  readonly before: string | undefined;
  /** What the board has at its pads, where it is the same board and runs the firmware of another target. */
  readonly wired?: Readonly<Record<string, string>>;
}

/** What the way and the destination's target let stand where, for the rows of one table. */
export function restrictionsOf(table: TableDefinition, destination: Destination): Restriction[] {
  const { route } = destination;
  let found: Restriction[] = [];
  for (const hop of route) {
    // what is new speaks of the release before, like the rules beside it
    const fresh = rulesOn(table.name, hop.rules).flatMap((rule) => kindOf(rule).table?.restricts?.(rule) ?? []);
    found = [...found, ...fresh].map((restriction) => readOn(restriction, table.name, hop));
  }
  return [...found, ...restrictionsOfTarget(table, destination)];
}

/**
 * The ports that a target has; and, where the values come from another target, the pads that can drive something, and
 * tables that work through a pad of their own. A board that runs another target's firmware is asked pad by pad.
 */
function restrictionsOfTarget(table: TableDefinition, { to, target, before, wired = {} }: Destination): Restriction[] {
  const { ports, pads } = (target ?? {}) as Partial<ReleaseTarget>;
  if (!target || !ports || !pads) return [];
  const { pins } = to as Partial<Pick<Firmware, "pins">>;
  const otherwise = (pad: string) => wired[pad] !== undefined && wired[pad] !== pads[pad];
  if (table.name === pins?.ports.table || (pins === undefined && table.area === "ports")) {
    const pulled = Object.keys(wired)
      .filter(otherwise)
      .map((pad) => portOf(wired[pad] ?? ""));
    return [
      { on: ports.map(String), why: `${target.id} has no such port.` },
      {
        on: ports.filter((port) => !pulled.includes(port)).map(String),
        why: `${target.id} has that port at other pads than this board.`,
      },
    ];
  }
  if (before === undefined || before === target.id) return [];
  const own = Object.keys(pins?.tables ?? {}).filter((pad) => pins?.tables?.[pad] === table.name);
  if (own.length > 0 && own.every((pad) => pads[pad] === undefined))
    return [{ on: [], why: `${target.id} has no pad ${own.join(" or ")}.` }];
  if (own.length > 0 && own.every((pad) => pads[pad] === undefined || otherwise(pad)))
    return [{ on: [], why: `${target.id} drives ${own.join(" and ")} where this board does not have it.` }];
  if (table.name !== pins?.outputs.table) return [];
  const { use } = pins.outputs;
  const type = table.columns.find(({ name }) => name === use)?.type;
  const driven = Object.keys(pads).filter((pad) => portOf(pads[pad] ?? "") === undefined && !pins.tables?.[pad]);
  const alike = driven.filter((pad) => !otherwise(pad));
  const uses = type?.kind === "choice" ? type.options.filter((word) => !pins.nothing.includes(word)) : [];
  return uses.flatMap((value) => [
    { column: use, value, on: driven, why: `${target.id} has no such output.` },
    { column: use, value, on: alike, why: `${target.id} drives that output where this board does not have it.` },
  ]);
}

/** Whether a row cannot stand under its key; what it does not write stands at its column's default. */
export const blocks = (
  { column, value, on }: Restriction,
  { key, cells }: RowPlace,
  { columns }: Pick<TableDefinition, "columns">,
) =>
  !on.includes(key) &&
  (column === undefined || (cells[column] ?? columns.find(({ name }) => name === column)?.default) === value);
