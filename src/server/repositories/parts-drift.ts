import { firmwareById, releaseTitle, type Catalogue } from "@/core/catalog";
import {
  fleetDrift,
  withoutAllowed,
  type Allowance,
  type Drift,
  type DriftCell,
  type DriftColumn,
  type Judged,
  type Vector,
} from "@/core/compare";
import { groupBy } from "@/core/group-by";
import { partAddress, type PartName } from "@/core/part";
import { isSpoilt } from "@/server/repositories/blobs";
import { partsWith } from "@/server/repositories/backups";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { newestParts, type NewestPart } from "@/server/repositories/fleet-parts";
import { readingOf, vectorsOf } from "@/server/repositories/readings";
import type { Standard } from "@/server/repositories/standards";

/** How what is behind the boards of a type stands off what its standard was read out with. */
export interface PartsDrift {
  /** A row for each aircraft of which something was read that the standard has as well; columns say which part. */
  readonly drift: Drift;
  /** How many parts the standard was read out with. */
  readonly held: number;
  /** How many parts of the type were ever read out. */
  readonly read: number;
  /** Aircraft of which nothing is said of some parts, with the places of those. */
  readonly unread: readonly { readonly tag: string; readonly places: readonly string[] }[];
}

/** A part that a standard was read out with. */
interface Wanted {
  readonly name: PartName;
  readonly place: string;
  readonly firmware: string;
  readonly target: string;
  readonly sha256: string;
}

const firmwareOf = (catalogue: Catalogue, id: string | null) => {
  const release = firmwareById(catalogue, id ?? "");
  return release ? releaseTitle(release) : "not known";
};

async function wantedBy({ backup_id: id }: Standard, catalogue: Catalogue): Promise<Wanted[]> {
  const read = await partsWith(id);
  return read.flatMap(({ part, place, release_id, target, sha256 }) =>
    part === null
      ? []
      : [
          {
            name: part as PartName,
            place: place ?? part,
            firmware: firmwareOf(catalogue, release_id),
            target: target ?? "not known",
            sha256,
          },
        ],
  );
}

interface Off {
  readonly tag: string;
  readonly cell: DriftCell;
  readonly column: Omit<DriftColumn, "count">;
}

/** What a part runs and what it is built for are no settings: equal values on others are not the same aircraft. */
function otherBuild(part: NewestPart, wanted: Wanted, catalogue: Catalogue): Off[] {
  const said: readonly (readonly [string, string, string])[] = [
    ["Firmware", firmwareOf(catalogue, part.release_id), wanted.firmware],
    ["Built for", part.target ?? "not known", wanted.target],
  ];
  return said.flatMap(([title, shown, standard]): Off[] => {
    if (shown === standard) return [];
    const id = partAddress(wanted.name, title);
    const about = { title, place: wanted.place, area: "firmware", says: "", flies: true, standard };
    return [{ tag: part.tag, cell: { column: id, shown, standard, flies: true }, column: { id, ...about } }];
  });
}

const unlessSpoilt = (error: unknown): undefined => {
  if (!isSpoilt(error)) throw error;
};

/** The compact forms of read-outs; of those whose bytes are damaged there is none. */
async function vectorsThere(hashes: readonly string[]): Promise<ReadonlyMap<string, Vector>> {
  const all = await vectorsOf(hashes).catch(unlessSpoilt);
  if (all) return all;
  const found = new Map<string, Vector>();
  for (const sha256 of new Set(hashes)) {
    const vector = (await vectorsOf([sha256]).catch(unlessSpoilt))?.get(sha256);
    if (vector) found.set(sha256, vector);
  }
  return found;
}

/** What stands off one part of the standard, and of which aircraft that can be told: not where bytes are damaged. */
async function offOf(
  wanted: Wanted,
  parts: readonly NewestPart[],
  catalogue: Catalogue,
): Promise<{ readonly off: Off[]; readonly toldOf: ReadonlySet<string> }> {
  const vectors = await vectorsThere(parts.map(({ sha256 }) => sha256));
  const fleet = parts.flatMap(({ tag, sha256 }) => {
    const vector = vectors.get(sha256);
    return vector ? [{ tag, vector }] : [];
  });
  const reading = await readingOf(wanted.sha256).catch(unlessSpoilt);
  const { rows, columns } = reading ? fleetDrift(reading, fleet, catalogue) : { rows: [], columns: [] };
  const known = new Map(columns.map((column) => [column.id, column]));
  const values = rows.flatMap(({ tag, cells }) =>
    cells.flatMap((cell): Off[] => {
      const found = known.get(cell.column);
      const id = partAddress(wanted.name, cell.column);
      return found
        ? [{ tag, cell: { ...cell, column: id }, column: { ...found, id, place: `${wanted.place}, ${found.place}` } }]
        : [];
    }),
  );
  return {
    off: [...parts.flatMap((part) => otherBuild(part, wanted, catalogue)), ...values],
    toldOf: new Set(reading ? fleet.map(({ tag }) => tag) : []),
  };
}

function driftFrom(tags: readonly string[], off: readonly Off[]): Drift {
  const byTag = groupBy(off, ({ tag }) => tag);
  const columns = [...groupBy(off, ({ column }) => column.id).values()].flatMap((alike) =>
    alike[0] ? [{ ...alike[0].column, count: alike.length }] : [],
  );
  return { columns, rows: tags.map((tag) => ({ tag, cells: (byTag.get(tag) ?? []).map(({ cell }) => cell) })) };
}

/** Holds the parts of a type's aircraft against those that its standard was read out with, place by place. */
export async function partsDriftOf(standard: Standard, tags: readonly string[]): Promise<PartsDrift> {
  const catalogue = await loadCatalogue();
  const wanted = await wantedBy(standard, catalogue);
  const all = await newestParts(standard.type);
  if (wanted.length === 0) return { drift: { columns: [], rows: [] }, held: 0, read: all.length, unread: [] };
  const newest = groupBy(all, ({ part }) => part);
  const off: Off[] = [];
  const lacks = new Map<string, string[]>();
  for (const each of wanted) {
    const parts = newest.get(each.name) ?? [];
    const found = await offOf(each, parts, catalogue);
    off.push(...found.off);
    for (const tag of tags) if (!found.toldOf.has(tag)) lacks.set(tag, [...(lacks.get(tag) ?? []), each.place]);
  }
  const told = tags.filter((tag) => (lacks.get(tag)?.length ?? 0) < wanted.length);
  const unread = [...lacks].map(([tag, places]) => ({ tag, places }));
  return { drift: driftFrom(told, off), held: wanted.length, read: all.length, unread };
}

/** The same without what is allowed: parts have places of their own, and areas are the boards’. */
export const withoutAllowedParts = ({ drift }: PartsDrift, allowances: readonly Allowance[]): Judged =>
  withoutAllowed(
    drift,
    allowances.filter(({ kind }) => kind === "place"),
  );
