import { releaseTitle } from "@/core/catalog";
import { wayTo, type FittedPart } from "@/core/part";
import type { Backup } from "@/server/models";
import { partsWith } from "@/server/repositories/backups";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { partsOfAircraft } from "@/server/repositories/fittings";
import type { Row } from "@/server/sql";

/** A part that a read-out of its board is without, and why. */
export interface MissedPart {
  readonly part: FittedPart;
  readonly why: string;
}

/** What was read out together with a board, and what of its aircraft was not: of the whole nothing is said without that. */
export async function keptTogether(
  row: Pick<Row<Backup>, "id" | "part" | "aircraft_id" | "release_id" | "taken_at">,
): Promise<{ readonly read: Row<Backup>[]; readonly missed: MissedPart[] }> {
  const read = await partsWith(row.id);
  const aircraft = row.aircraft_id === null || row.part !== null ? undefined : await aircraftById(row.aircraft_id);
  if (!aircraft) return { read, missed: [] };
  const { releases } = await loadCatalogue();
  const release = releases.get(row.release_id ?? "");
  const all = await partsOfAircraft(aircraft.id, aircraft.model_id, row.taken_at);
  const missed = all
    .filter(({ name }) => !read.some(({ part }) => part === name))
    .map((part): MissedPart => {
      if (release && !wayTo(release, part.part))
        return { part, why: `${releaseTitle(release)} opens no line to the ${part.part}` };
      // some of its kind were reached: it was asked for
      if (read.some(({ part: name }) => name?.startsWith(`${part.part} `))) return { part, why: "It was not reached" };
      const fed = part.supply === "board" ? "" : `, and without the ${part.supply} it has no supply`;
      return { part, why: `Nobody asked for it${fed}` };
    });
  return { read, missed };
}
