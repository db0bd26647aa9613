import {
  columnsOf,
  findTarget,
  indexOf,
  portOf,
  type FirmwareTarget,
  type PinMap,
  type ReleaseTarget,
} from "@/core/catalog";
import { showValue } from "@/core/config";
import { rowDoubtOf, type Resolved } from "@/core/compare/resolved";

/** A pad of a board: what stands on it in the firmware's words, what is wired behind it, and what it is used for. */
export interface Pad {
  readonly pad: string;
  /** `timer 2 channel 1`; empty where the target does not say. */
  readonly wired: string;
  /** `front left`, `receiver`; empty: nothing uses it. */
  readonly does: string;
}

/** The use of a table's row, in words; undefined where there is no such row. */
function functionOf(side: Resolved, table: string, column: string, key: string): string | undefined {
  const definition = indexOf(side.release).tables.get(table);
  const use = definition && columnsOf(definition).find((c) => c.name === column);
  const row = side.rows.get(`${table}/${key}`);
  if (use && !row && rowDoubtOf(side, { table, key })) return "not known";
  if (!use || !row) return undefined;
  return showValue(row.cells[column] ?? use.default, use.type).replaceAll("-", " ");
}

/** What a table that needs a pad is for, as soon as it has a row. */
function tableUse(side: Resolved, name: string): string | undefined {
  const table = indexOf(side.release).tables.get(name);
  if (!table) return undefined;
  if ([...side.rows.values()].some((row) => row.table === name)) return table.area;
  return side.open.rows.has(name) ? "not known" : undefined;
}

const plainUse = (text: string | undefined, nothing: readonly string[]) =>
  text === undefined || nothing.includes(text) ? "" : text;

/**
 * The pads of the board that a side is for, with their functions: outputs by the pad that they name, ports by their number.
 * A port whose pads the target does not name is drawn as one pad, and an output on a pad that the target lacks is shown as
 * such: it is the likeliest thing to be wrong.
 */
export function padsOf(side: Resolved, pins: PinMap): Pad[] {
  // releases of parts without pads say none
  const target: (FirmwareTarget & Partial<ReleaseTarget>) | undefined = findTarget(
    side.release,
    side.identity.target ?? "",
  );
  const nothing = pins.nothing.map((word) => word.replaceAll("-", " "));
  const pads: Pad[] = [];
  const named = new Set<number>();
  for (const [pad, wired] of Object.entries(target?.pads ?? {})) {
    const port = portOf(wired);
    if (port !== undefined) named.add(port);
    const table = pins.tables?.[pad];
    const use =
      table !== undefined
        ? tableUse(side, table)
        : port === undefined
          ? functionOf(side, pins.outputs.table, pins.outputs.use, pad)
          : functionOf(side, pins.ports.table, pins.ports.use, String(port));
    pads.push({ pad, wired, does: plainUse(use, nothing) });
  }
  for (const port of target?.ports ?? []) {
    if (named.has(port)) continue;
    const use = functionOf(side, pins.ports.table, pins.ports.use, String(port));
    pads.push({ pad: `port ${port}`, wired: "in and out", does: plainUse(use, nothing) });
  }
  const known = new Set(pads.map(({ pad }) => pad));
  for (const row of side.rows.values()) {
    if (row.table !== pins.outputs.table || known.has(row.key)) continue;
    const does = plainUse(functionOf(side, row.table, pins.outputs.use, row.key), nothing);
    if (does !== "") pads.push({ pad: row.key, wired: target ? "not on this target" : "", does });
  }
  return pads;
}
