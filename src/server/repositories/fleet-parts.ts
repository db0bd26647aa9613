import type { FleetPart } from "@/contracts/answers/parts";
import { releaseTitle } from "@/core/catalog";
import { groupBy } from "@/core/group-by";
import { oddIn, oddSentence, saidByName, type OddOne, type PartName } from "@/core/part";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { rows } from "@/server/sql";

/** A part of an aircraft as it was read last. */
export interface NewestPart {
  readonly tag: string;
  readonly type: string;
  readonly part: PartName;
  readonly place: string;
  readonly release_id: string | null;
  readonly target: string | null;
  readonly id: number;
  readonly sha256: string;
  readonly taken_at: Date;
}

/**
 * The newest read-out of each part of each aircraft, of a type or of all; which is the newest of many, the database finds.
 * `like`: a pattern for “TAG place”, for what it runs, or for what it is built for.
 */
export const newestParts = (type = "", like = "%", most: number | null = null): Promise<NewestPart[]> =>
  rows(
    `select * from (
       select distinct on (a.tag, b.part)
              a.tag, a.type, b.part, coalesce(b.place, '') as place, b.release_id, b.target, b.id, b.sha256, b.taken_at
       from backups b join aircraft a on a.id = b.aircraft_id
       where b.part is not null and b.source in ('job', 'bay', 'file') and b.verdict <> 'raw' and ($1 = '' or a.type = $1)
       order by a.tag, b.part, b.taken_at desc, b.id desc) n
     where tag || ' ' || place ilike $2 or part ilike $2 or release_id ilike $2 or target ilike $2
     order by tag, part limit $3`,
    [type, like, most],
  );

/** Every part of the fleet as it was read last, and which of an aircraft's is another than its like, by firmware and code. */
export async function partsOfFleet(): Promise<FleetPart[]> {
  const catalogue = await loadCatalogue();
  const all = (await newestParts()).map((row) => {
    const { part: kind } = saidByName(row.part);
    const release = catalogue.parts.get(row.release_id ?? "");
    const part = { name: row.part, part: kind, title: kind, place: row.place };
    return { row, part, kind, firmware: release ? releaseTitle(release) : row.release_id };
  });
  const odd = new Map<(typeof all)[number], OddOne[]>();
  for (const alike of groupBy(all, ({ row, kind }) => `${row.tag}/${kind}`).values()) {
    const found = [
      ...oddIn(alike, "firmware", ({ firmware }) => firmware ?? "not known"),
      ...oddIn(alike, "built for", ({ row }) => row.target ?? "not known"),
    ];
    for (const each of alike)
      odd.set(
        each,
        found.filter(({ part }) => part.name === each.part.name),
      );
  }
  return all
    .map((each): FleetPart => ({
      tag: each.row.tag,
      type: each.row.type,
      kind: each.kind,
      place: each.row.place,
      firmware: each.firmware,
      releaseId: each.row.release_id,
      target: each.row.target,
      backupId: each.row.id,
      at: each.row.taken_at.getTime(),
      odd: (odd.get(each) ?? []).map(oddSentence),
    }))
    .toSorted((a, b) => b.odd.length - a.odd.length || a.tag.localeCompare(b.tag));
}
