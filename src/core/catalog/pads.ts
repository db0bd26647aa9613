import type { PinMap, ReleaseTarget } from "@/core/catalog/release";

/** `port 3 in` → 3: pads of one port share what the port is used for. */
export function portOf(wired: string): number | undefined {
  const found = /^port (\d+)\b/.exec(wired);
  return found ? Number(found[1]) : undefined;
}

/** The pads of a target that a row of a table is about; a port whose pads are not named stands for itself. */
export function padsOfRow(pins: PinMap, target: ReleaseTarget, table: string, key: string): string[] {
  const needed = Object.entries(pins.tables ?? {}).flatMap(([pad, name]) => (name === table ? [pad] : []));
  if (table === pins.outputs.table) return [...needed, key];
  if (table !== pins.ports.table) return needed;
  const named = Object.entries(target.pads).flatMap(([pad, wired]) => (portOf(wired) === Number(key) ? [pad] : []));
  return [...needed, ...(named.length > 0 ? named : [`port ${key}`])];
}
