import { buildTitle, compareTwo } from "@/core/compare";
import type { PartName } from "@/core/part";
import { newestOfParts } from "@/server/repositories/backups";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingsOf, type HistoryReading } from "@/server/repositories/sides";

/** A part of an aircraft that was ever read. */
export interface KnownPart {
  readonly name: PartName;
  readonly place: string;
}

/** The parts of an aircraft of which something was ever read. */
export const knownParts = async (aircraftId: number): Promise<KnownPart[]> =>
  (await newestOfParts(aircraftId))
    .flatMap(({ part, place }) => (part === null ? [] : [{ name: part as PartName, place: place ?? part }]))
    .toSorted((a, b) => a.name.localeCompare(b.name, "en", { numeric: true }));

/** What was otherwise when a part was read again. */
export interface PartChange extends KnownPart {
  /** The read-out of the board that it was read with. */
  readonly withId: number | null;
  /** “another firmware: A 44, B to A 45, B; 2 values”. */
  readonly says: string;
  readonly now: number;
  readonly before: number;
}

const buildOf = ({ release, configuration }: HistoryReading) =>
  buildTitle({ release, identity: configuration.identity });

async function changeOf(part: KnownPart, now: HistoryReading, before: HistoryReading): Promise<PartChange | undefined> {
  const compared = compareTwo(now, before, await loadCatalogue());
  const values = compared.ok ? compared.value.differences.length + compared.value.personal.length : undefined;
  const [is, was] = [buildOf(now), buildOf(before)];
  const said = [
    is === was ? "" : `${was} → ${is}`,
    values === undefined ? "no way between them" : values === 0 ? "" : values === 1 ? "1 value" : `${values} values`,
  ].filter((each) => each !== "");
  if (said.length === 0) return undefined;
  return { ...part, withId: now.withId, says: said.join(", "), now: now.id, before: before.id };
}

/** How many parts were read with a read-out of their board, and how many of them for the first time. */
export interface ReadWith {
  readonly read: number;
  readonly first: number;
}

/** What changed behind the board of an aircraft from one reading of each part to the next, and what was read with which of its read-outs. */
export async function partChanges(
  aircraftId: number,
  parts: readonly KnownPart[],
): Promise<{ readonly changes: PartChange[]; readonly readWith: ReadonlyMap<number, ReadWith> }> {
  const changes: PartChange[] = [];
  const readWith = new Map<number, ReadWith>();
  for (const part of parts) {
    const readings = await readingsOf(aircraftId, part.name);
    for (const withId of new Set(readings.map((each) => each.withId))) {
      if (withId === null) continue;
      const { read, first } = readWith.get(withId) ?? { read: 0, first: 0 };
      readWith.set(withId, { read: read + 1, first: first + Number(readings[0]?.withId === withId) });
    }
    for (const [i, now] of readings.entries()) {
      const before = readings[i - 1];
      const change = before && (await changeOf(part, now, before));
      if (change) changes.push(change);
    }
  }
  return { changes, readWith };
}
