import { Op } from "sequelize";
import type { PartMount } from "@/core/catalog";
import { fittedParts, oddOnes, type FittedPart, type OddOne, type ReadPart } from "@/core/part";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import { newestOfParts } from "@/server/repositories/backups";
import { isSpoilt } from "@/server/repositories/blobs";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingOf } from "@/server/repositories/readings";
import { list } from "@/server/sql";

/** What is fitted to an aircraft beside its board: of each kind what was said last, or last by then. */
export async function fittedTo(aircraftId: number, by?: Date): Promise<PartMount[]> {
  const found = await list(getDb().FittingRow, {
    where: { aircraft_id: aircraftId, ...(by ? { at: { [Op.lte]: by } } : {}) },
    order: [["id", "desc"]],
    limit: 400,
  });
  return found
    .filter(({ part }, i) => found.findIndex((each) => each.part === part) === i)
    .flatMap(({ mount }) => (mount.places.length === 0 ? [] : [mount]));
}

/** Says what is fitted to an aircraft. Parts of a kind without places: there is none any more. */
export async function fitParts(aircraftId: number, mount: PartMount, account: string): Promise<void> {
  const { parts } = await loadCatalogue();
  if (![...parts.values()].some(({ part }) => part === mount.part))
    throw new ProblemError({
      code: "part-unknown",
      message: `No release in the workshop is of “${mount.part}”`,
      hint: "Import one of its releases under Firmware first",
    });
  const row = { aircraft_id: aircraftId, part: mount.part, mount, account };
  await getDb().FittingRow.create(row);
}

/** The parts of an aircraft behind its board, by the model of that and by what is fitted beside it. */
export async function partsOfAircraft(aircraftId: number, modelId: string | null, by?: Date): Promise<FittedPart[]> {
  const { models } = await loadCatalogue();
  return fittedParts(models.get(modelId ?? ""), await fittedTo(aircraftId, by));
}

/** A part of an aircraft, as it was read last. */
export interface PartState {
  readonly part: FittedPart;
  readonly read?: ReadPart & { readonly backupId: number; readonly at: Date; readonly verdict: string };
}

/** How the parts of an aircraft stood when they were read last, and which of them is not as its like are. */
export async function partStates(
  aircraftId: number,
  modelId: string | null,
): Promise<{ readonly parts: PartState[]; readonly odd: OddOne[] }> {
  const fitted = await partsOfAircraft(aircraftId, modelId);
  if (fitted.length === 0) return { parts: [], odd: [] };
  const newest = new Map((await newestOfParts(aircraftId)).map((row) => [row.part, row]));
  const parts: PartState[] = [];
  for (const part of fitted) {
    const row = newest.get(part.name);
    const reading =
      row &&
      (await readingOf(row.sha256).catch((error: unknown) => {
        if (isSpoilt(error)) return undefined;
        throw error;
      }));
    if (!row || !reading) {
      parts.push({ part });
      continue;
    }
    const { configuration, release } = reading;
    const read = { part, release, target: configuration.identity.target, configuration };
    parts.push({ part, read: { ...read, backupId: row.id, at: row.taken_at, verdict: row.verdict } });
  }
  return { parts, odd: oddOnes(parts.flatMap(({ read }) => read ?? [])) };
}
