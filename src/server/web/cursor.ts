/** How far the record was read, bench by bench: the number of the last entry of each, by the bench's id. */
export type Cursor = ReadonlyMap<number, number>;

/** As the id of an event: `1:120,2:7`. */
export const cursorText = (cursor: Cursor): string => [...cursor].map(([bench, no]) => `${bench}:${no}`).join(",");

const ONE = /^(\d{1,9}):(\d{1,15})$/;

/** A cursor that a browser sends back; undefined where it is none. */
export function readCursor(text: string): Cursor | undefined {
  if (text.length > 2000) return undefined;
  const parts = text.split(",").map((part) => ONE.exec(part));
  return parts.some((part) => part === null)
    ? undefined
    : new Map(parts.flatMap((part) => (part ? [[Number(part[1]), Number(part[2])] as const] : [])));
}

/** Rises with every entry of any bench. */
export const cursorSum = (cursor: Cursor): number => [...cursor.values()].reduce((sum, no) => sum + no, 0);
