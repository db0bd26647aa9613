import type { FleetPart } from "@/contracts/answers/parts";
import { releaseTitle } from "@/core/catalog";
import { groupBy } from "@/core/group-by";
import { oddIn, oddSentence, saidByName, type OddOne, type PartName } from "@/core/part";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { likeText, rows } from "@/server/sql";

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

const COLUMNS = `a.tag, a.type, b.part, coalesce(b.place, '') as place, b.release_id, b.target, b.id, b.sha256, b.taken_at`;
const READ = `b.part is not null and b.source in ('job', 'bay', 'file') and b.verdict <> 'raw'`;

/** The newest read-out of each part of each aircraft, of a type or of all; which is the newest of many, the database finds. */
export const newestParts = (type = ""): Promise<NewestPart[]> =>
  rows(
    `select distinct on (b.aircraft_id, b.part) ${COLUMNS}
     from backups b join aircraft a on a.id = b.aircraft_id
     where ${READ} and ($1 = '' or a.type = $1)
     order by b.aircraft_id, b.part, b.taken_at desc, b.id desc`,
    [type],
  );

/** So many aircraft are looked at for a few words. */
const MOST_AIRCRAFT = 40;

/** Parts whose aircraft, place and kind a few words name: one of them has to be of a tag, so that a large fleet is not gone through. */
export async function partsNamed(query: string, most: number): Promise<NewestPart[]> {
  const words = query.trim().toLowerCase().split(/\s+/);
  const found = await rows<NewestPart>(
    `select n.* from (
       select id, tag, type from aircraft
       where exists (select from unnest($1::text[]) word where tag ilike word) order by tag limit $2) a
     cross join lateral (
       select distinct on (b.part) ${COLUMNS} from backups b
       where b.aircraft_id = a.id and ${READ}
       order by b.part, b.taken_at desc, b.id desc) n
     order by n.tag, n.part`,
    [words.map(likeText), MOST_AIRCRAFT],
  );
  const fits = ({ tag, place, part }: NewestPart) => {
    const text = `${tag} ${place} ${part}`.toLowerCase();
    return words.every((word) => text.includes(word));
  };
  return found.filter(fits).slice(0, most);
}

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
