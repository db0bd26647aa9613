import {
  buildCatalogue,
  readDocument,
  releaseTitle,
  type Catalogue,
  type CatalogueDocument,
  type DocumentKind,
  type Release,
} from "@/core/catalog";
import { resolve } from "@/core/compare";
import { idiomOf, recogniseRaw, unwritable, type Recital } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { getBlob } from "@/server/repositories/blobs";
import { currentDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { rows } from "@/server/sql";
import type { Rereading } from "@/contracts/answers/read-outs";

/** Read-outs are read again for so much of this process's own time, and no more of them than so many; those that are left out are counted. */
const BUDGET_MS = 12_000;
const MOST = 5_000;

/** Documents that decide how a text is read; the others say nothing about it. */
const READ_BY: ReadonlySet<DocumentKind> = new Set<DocumentKind>(["idiom", "release"]);

const read = (raw: Uint8Array, catalogue: Catalogue): Recital | string => {
  const result = recogniseRaw(raw, catalogue);
  return result.ok ? result.value.recital : result.problem.message;
};

const valuesText = (ids: readonly string[]): string => {
  if (ids.length <= 1) return ids.length === 0 ? "" : `1 value, ${ids[0] ?? ""}`;
  return `${ids.length} values, such as ${ids.slice(0, 3).join(", ")}`;
};

/** How two readings of one text differ, in a sentence; undefined when they say the same. */
function differenceOf(before: Recital | string, after: Recital | string): string | undefined {
  if (typeof before === "string" || typeof after === "string") {
    const outcomeOf = (reading: Recital | string) => (typeof reading === "string" ? reading : "it was read");
    return outcomeOf(before) === outcomeOf(after)
      ? undefined
      : `before: ${outcomeOf(before)}; then: ${outcomeOf(after)}`;
  }
  if (before.release.id !== after.release.id)
    return `${releaseTitle(before.release)} becomes ${releaseTitle(after.release)}`;
  // values that the text does not give are read as well, from the release's defaults; to be read from there is a difference
  const values = ({ configuration, release }: Recital) => {
    const { values: told, open } = resolve(configuration, release);
    return new Map([
      ...[...told].map(([id, { value, explicit }]): [string, string] => [id, JSON.stringify([value, explicit])]),
      ...[...open.values].map(([id, { cause }]): [string, string] => [id, cause]),
    ]);
  };
  const [old, now] = [values(before), values(after)];
  const odd = [...new Set([...old.keys(), ...now.keys()])].filter((id) => old.get(id) !== now.get(id));
  const parts = [
    valuesText(odd),
    before.completeness.verdict === after.completeness.verdict
      ? ""
      : `${before.completeness.verdict} becomes ${after.completeness.verdict}`,
    before.configuration.rows.length === after.configuration.rows.length
      ? ""
      : `${before.configuration.rows.length} rows become ${after.configuration.rows.length}`,
    before.configuration.unknown.length === after.configuration.unknown.length
      ? ""
      : `${before.configuration.unknown.length} lines not understood become ${after.configuration.unknown.length}`,
  ].filter(Boolean);
  return parts.length === 0 ? undefined : parts.join("; ");
}

/** The catalogue as it would be with documents; refuses those with which it would not hold together. */
async function catalogueWith(documents: readonly CatalogueDocument[]): Promise<Catalogue> {
  const others = (await currentDocuments()).filter(
    (each) => !documents.some(({ document, id }) => each.kind === document && each.id === id),
  );
  const accepted = new Set(others.map(({ id }) => id));
  return valueOf(buildCatalogue([...others.map((each) => each.body), ...documents], accepted));
}

const ownMs = () => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};

/** The releases whose read-outs a document concerns: those that descend from it, or that speak it. */
function concerned(document: CatalogueDocument, catalogue: Catalogue): string[] {
  const descends = (release: Release | undefined): boolean =>
    release !== undefined && (release.id === document.id || descends(catalogue.releases.get(release.ancestor ?? "")));
  return [...catalogue.releases.values()]
    .filter((release) => (document.document === "idiom" ? release.idiom === document.id : descends(release)))
    .map((release) => release.id);
}

/**
 * What would read differently if documents came in: read-outs on file, read with and without it. Of each aircraft and
 * release the newest of each kind, each text once, those that they concern first.
 */
export async function previewDocuments(texts: readonly string[]): Promise<Rereading> {
  const documents = texts.map((text) => valueOf(readDocument(text)));
  const [now, then] = [await loadCatalogue(), await catalogueWith(documents)];
  const reading = documents.filter(({ document }) => READ_BY.has(document));
  if (reading.length === 0) return { looked: 0, total: 0, changed: [], unwritable: [] };
  const newest = await rows<{ id: number; name: string; sha256: string; total: number }>(
    `select id, name, sha256, count(*) over ()::int as total from
       (select distinct on (sha256) * from
         (select distinct on (release_id, aircraft_id, verdict) * from backups
          where source in ('job', 'bay', 'file') order by release_id, aircraft_id, verdict, taken_at desc) newest
        order by sha256, taken_at desc) texts
     order by release_id = any($2) desc, taken_at desc limit $1`,
    [MOST, reading.flatMap((document) => concerned(document, then))],
  );
  const changed = [];
  const before = ownMs();
  let looked = 0;
  for (const { id, name, sha256 } of newest) {
    if (ownMs() - before > BUDGET_MS) break;
    looked++;
    const raw = await getBlob(sha256);
    const says = differenceOf(read(raw, now), read(raw, then));
    if (says !== undefined) changed.push({ id, name, says });
  }
  const lacks = reading.flatMap((each) => (each.document === "idiom" ? unwritable(idiomOf(each)) : []));
  return { looked, total: newest[0]?.total ?? 0, changed, unwritable: lacks };
}
