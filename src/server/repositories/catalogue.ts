import { LRUCache } from "lru-cache";
import {
  buildCatalogue,
  danglingIn,
  keptCatalogue,
  findTarget,
  findFirmware,
  firmwareById,
  layoutsOf,
  locatedIn,
  LOADER_PART,
  partOf,
  processorOf,
  readDocument,
  releaseTitle,
  type Catalogue,
  type CatalogueDocument,
  type DocumentKind,
} from "@/core/catalog";
import {
  applicationSpace,
  FORMATS,
  loaderSpace,
  markOf,
  readImageFile,
  recogniseImage,
  type FirmwareImage,
} from "@/core/image";
import { isDeepStrictEqual } from "node:util";
import { ProblemError, valueOf, type Problem, type Result } from "@/core/problem";
import { readDocumentOnce } from "@/server/documents-read";
import { getDb } from "@/server/db";
import { getBlob, putBlob, sha256 } from "@/server/repositories/blobs";
import { readUsable, type AsideDocument, type Usable } from "@/server/repositories/usable";
import type { CatalogueDocumentRow, ImageRow, PinnedDocument } from "@/server/models";
import { first, inTransaction, list, oneAtATime, rows, type Row } from "@/server/sql";
import { Op, type Transaction } from "sequelize";

export type { PinnedDocument } from "@/server/models";

const SUMMARY = [
  "id",
  "kind",
  "document_id",
  "version",
  "imported_by",
  "imported_at",
] as const satisfies readonly (keyof Row<CatalogueDocumentRow>)[];
export type DocumentSummary = Row<CatalogueDocumentRow, (typeof SUMMARY)[number]>;

/** The newest version of each document; “the first of each” is beyond a model. */
const CURRENT =
  "select distinct on (kind, document_id) * from catalogue_documents order by kind, document_id, version desc";

// Documents change rarely and resolving them takes a moment: kept until a new one comes in.
const holder = globalThis as typeof globalThis & { freshStartCatalogue?: { stamp: string; usable: Usable } };

/** Changes whenever a document comes in, or is taken out of use. */
export async function catalogueStamp(transaction?: Transaction): Promise<string> {
  // in one statement: it is asked for at every reading
  const [row] = await rows<{ stamp: string }>(
    `select count(*) || ':' || coalesce(max(id), 0) || ':' || (select coalesce(max(id), 0) from document_standings) as stamp
     from catalogue_documents`,
    [],
    transaction,
  );
  return row?.stamp ?? "";
}

async function usable(transaction?: Transaction): Promise<Usable> {
  const stamp = await catalogueStamp(transaction);
  if (holder.freshStartCatalogue?.stamp === stamp) return holder.freshStartCatalogue.usable;
  const found = await readUsable(transaction);
  for (const { kind, documentId, version, problem } of found.aside)
    console.error(`Set aside: ${kind} ${documentId}, version ${version}: ${problem.message}`);
  holder.freshStartCatalogue = { stamp, usable: found };
  return found;
}

/** The workshop's catalogue, from the newest version of each document that can be used. */
export const loadCatalogue = async (): Promise<Catalogue> => (await usable()).catalogue;

/** Versions on file that cannot be used, with why; those before them are used in their place. */
export const asideDocuments = async (): Promise<readonly AsideDocument[]> => (await usable()).aside;

/** The newest version of each document as it is now. */
export const pinDocuments = (transaction?: Transaction): Promise<PinnedDocument[]> =>
  rows(
    `select kind, document_id as id, version, sha256 from (${CURRENT}) d
     where (kind, document_id) not in (select kind, document_id from withdrawn_documents) order by kind, document_id`,
    [],
    transaction,
  );

const PINNED_CATALOGUES = 8;
const pinned = new LRUCache<string, Promise<Catalogue>>({ max: PINNED_CATALOGUES });

/** The catalogue of pinned documents. Versions are never changed, so it is the same whenever it is asked for. */
async function pinnedCatalogue(pins: readonly PinnedDocument[]): Promise<Catalogue> {
  const now = await pinDocuments();
  // mostly nothing came in since: then it is the workshop's own
  if (isDeepStrictEqual(now, pins)) return loadCatalogue();
  const name = sha256(new TextEncoder().encode(JSON.stringify(pins)));
  let catalogue = pinned.get(name);
  if (!catalogue) {
    catalogue = buildPinned(pins);
    pinned.set(name, catalogue);
    catalogue.catch(() => pinned.delete(name));
  }
  return catalogue;
}

/** The catalogue that a job rests on. */
export const catalogueOf = (pins: readonly PinnedDocument[] | null): Promise<Catalogue> =>
  pins === null ? loadCatalogue() : pinnedCatalogue(pins);

/** Documents of which newer versions came in since they were pinned. */
export async function newerThan(
  pins: readonly PinnedDocument[] | null,
): Promise<{ id: string; version: number; had: number }[]> {
  const now = await pinDocuments();
  return (pins ?? []).flatMap((pin) => {
    const newest = now.find((each) => each.kind === pin.kind && each.id === pin.id);
    return newest && newest.version > pin.version ? [{ id: pin.id, version: newest.version, had: pin.version }] : [];
  });
}

async function buildPinned(pins: readonly PinnedDocument[]): Promise<Catalogue> {
  const found = await list(getDb().CatalogueDocumentRow, {
    where: { [Op.or]: pins.map(({ kind, id: document_id, version }) => ({ kind, document_id, version })) },
    attributes: ["text", "sha256"],
  });
  const held = new Set(found.map((row) => row.sha256));
  const gone = pins.find((pin) => !held.has(pin.sha256));
  if (gone)
    throw new ProblemError({
      code: "document-gone",
      message: `A document that the job rests on is not there as it was: ${gone.id}`,
      detail: `Version ${gone.version}, ${gone.sha256}`,
      hint: "Restore the database from its own backup",
    });
  return valueOf(keptCatalogue(found.map((row) => valueOf(readDocumentOnce(row.text)))));
}

export const listDocuments = (): Promise<DocumentSummary[]> =>
  rows(
    `select id, kind, document_id, version, imported_by, imported_at from (${CURRENT}) d
     where (kind, document_id) not in (select kind, document_id from withdrawn_documents) order by kind, document_id`,
  );

/** The newest version of each document, of one kind or of all. */
export async function currentDocuments(
  kind?: DocumentKind,
  transaction?: Transaction,
): Promise<{ kind: DocumentKind; id: string; text: string; body: CatalogueDocument }[]> {
  return (await usable(transaction)).current
    .filter((row) => kind === undefined || row.kind === kind)
    .map((row) => ({ kind: row.kind, id: row.document_id, text: row.text, body: row.body }));
}

/** One version of a document, whichever it is. */
export const documentById = (id: number): Promise<(DocumentSummary & { readonly text: string }) | undefined> =>
  first(getDb().CatalogueDocumentRow, { where: { id }, attributes: [...SUMMARY, "text"] });

export async function documentText(id: number): Promise<{ name: string; text: string } | undefined> {
  const row = await documentById(id);
  return row
    ? { name: `${row.document_id.replaceAll(" ", "-").toLowerCase()}.${row.kind}.v${row.version}.yaml`, text: row.text }
    : undefined;
}

const problemIn = (result: Result<unknown>): Problem | undefined => (result.ok ? undefined : result.problem);

export interface Imported {
  readonly kind: DocumentKind;
  readonly id: string;
  readonly version: number;
  readonly unchanged: boolean;
}

/**
 * Imports documents, each as the next version of its kind and id. The whole catalogue must still resolve with them; if
 * it does not, none is kept. `also` is what is kept with them, or not at all.
 */
export async function importDocuments(
  texts: readonly string[],
  account: string,
  also: (imported: readonly Imported[], transaction: Transaction) => Promise<void> = () => Promise.resolve(),
): Promise<Imported[]> {
  const documents = texts.map((text) => ({
    text,
    document: valueOf(readDocument(text)),
    hash: sha256(new TextEncoder().encode(text)),
  }));
  return inTransaction(async (transaction) => {
    // one after the other: versions are counted, and the whole catalogue has to hold together
    await oneAtATime("documents", transaction);
    const current = await rows<{ kind: string; document_id: string; version: number; sha256: string; text: string }>(
      CURRENT,
      [],
      transaction,
    );
    const lastOf = ({ document }: { document: CatalogueDocument }) =>
      current.find((row) => row.kind === document.document && row.document_id === document.id);
    const fresh = documents.filter((each) => lastOf(each)?.sha256 !== each.hash);
    // what comes in is held against what is used: a version that was set aside is in nobody's way
    const isFresh = (kind: string, id: string) => fresh.some(({ document: d }) => d.document === kind && d.id === id);
    const kept = (await readUsable(transaction)).current.filter((row) => !isFresh(row.kind, row.document_id));
    if (fresh.length > 0) {
      const all = [...kept.map(({ body }) => body), ...fresh.map((each) => each.document)];
      const problem =
        fresh.flatMap(({ document }) => danglingIn(document, all) ?? [])[0] ??
        problemIn(buildCatalogue(all, new Set(kept.map(({ document_id: id }) => id))));
      // of several documents nothing tells which one it is about
      const [only, ...more] = fresh;
      if (problem) throw new ProblemError(only && more.length === 0 ? locatedIn(only.text, problem) : problem);
    }
    const imported: Imported[] = [];
    for (const each of documents) {
      const last = lastOf(each);
      const unchanged = !fresh.includes(each);
      const version = unchanged ? (last?.version ?? 1) : (last?.version ?? 0) + 1;
      const { document: kind, id } = each.document;
      if (!unchanged)
        await getDb().CatalogueDocumentRow.create(
          { kind, document_id: id, version, text: each.text, sha256: each.hash, imported_by: account },
          { transaction },
        );
      imported.push({ kind, id, version, unchanged });
    }
    // what comes in is used, also where it was withdrawn before
    const { DocumentStanding, WithdrawnDocument } = getDb();
    const back = await list(WithdrawnDocument, {
      where: { [Op.or]: imported.map(({ kind, id: document_id }) => ({ kind, document_id })) },
      transaction,
    });
    await DocumentStanding.bulkCreate(
      back.map(({ kind, document_id }) => ({ kind, document_id, used: true, reason: "", account })),
      { transaction },
    );
    await also(imported, transaction);
    return imported;
  });
}

/** Imports one document. */
export async function importDocument(text: string, account: string): Promise<Imported> {
  const [imported] = await importDocuments([text], account);
  if (!imported) throw new Error("nothing was imported");
  return imported;
}

export type ImageSummary = Row<ImageRow>;

/** The newest image of each release and target; “the first of each” is beyond a model. */
export const listImages = (): Promise<ImageSummary[]> =>
  rows("select distinct on (release_id, target) * from images order by release_id, target, version desc");

/** Every image that came in, the newest first. */
export const everyImage = (): Promise<ImageSummary[]> =>
  list(getDb().ImageRow, { order: [["release_id", "desc"], "target", ["version", "desc"]], limit: 2000 });

/** A stored image as a file of a format. */
export async function imageAsFile(id: number, formatId: string): Promise<{ file: Uint8Array; name: string }> {
  const format = FORMATS.find((each) => each.id === formatId);
  if (!format)
    throw new ProblemError({
      code: "format-none",
      message: "There is no such format",
      detail: `There are: ${FORMATS.map((each) => each.id).join(", ")}`,
    });
  const row = await first(getDb().ImageRow, { where: { id } });
  if (!row) throw new ProblemError({ code: "image-none", message: "There is no such image" });
  const { image } = await loadImage(await loadCatalogue(), row.release_id, row.target, row.sha256);
  const file = valueOf(format.write([{ start: image.start, bytes: image.bytes }], { start: image.start }));
  const version = row.version > 1 ? `-v${row.version}` : "";
  return { file, name: `${row.release_id}-${row.target}${version}.${format.extension}` };
}

/**
 * Imports an image file for the release and target that it says it is for, as the next version of it. It must be whole,
 * and both must be known.
 */
export async function importImage(file: Uint8Array, account: string): Promise<ImageSummary> {
  const catalogue = await loadCatalogue();
  const image = valueOf(recogniseImage(file, [...catalogue.processors.values()], layoutsOf(catalogue)));
  const { family, version, target, processorMark } = image.identity;
  const release = valueOf(findFirmware(catalogue, family, version));
  const found = findTarget(release, target);
  if (!found || markOf(processorOf(catalogue, found.processor).id) !== processorMark)
    throw new ProblemError({
      code: "image-other",
      message: `${releaseTitle(release)} is not built for what the image is for`,
      detail: `It calls itself ${family} ${version} for ${target}`,
      hint: "Import a release document that has this target",
    });
  const hash = await putBlob(image.bytes);
  return inTransaction(async (transaction) => {
    await oneAtATime("images", transaction);
    const newest = await newestImage(release.id, found.id, transaction);
    if (newest?.sha256 === hash) return newest;
    const made = await getDb().ImageRow.create(
      {
        release_id: release.id,
        target: found.id,
        version: (newest?.version ?? 0) + 1,
        sha256: hash,
        length_bytes: image.bytes.length,
        imported_by: account,
      },
      { transaction },
    );
    return made.get();
  });
}

const newestImage = (releaseId: string, target: string, transaction?: Transaction): Promise<ImageSummary | undefined> =>
  first(getDb().ImageRow, { where: { release_id: releaseId, target }, order: [["version", "desc"]], transaction });

export const hasImage = async (releaseId: string, target: string): Promise<boolean> =>
  (await newestImage(releaseId, target)) !== undefined;

/** The newest stored image of a release for a target, or the one with that hash; checked once more. */
export async function loadImage(
  catalogue: Catalogue,
  releaseId: string,
  target: string,
  sha?: string,
): Promise<{ readonly image: FirmwareImage; readonly sha256: string }> {
  const row =
    sha === undefined
      ? await newestImage(releaseId, target)
      : await first(getDb().ImageRow, { where: { release_id: releaseId, target, sha256: sha } });
  const release = firmwareById(catalogue, releaseId);
  const found = release?.targets.find((t) => t.id === target);
  if (!row || !release || !found)
    throw new ProblemError({
      code: "image-none",
      message: `No image of ${releaseId} for ${target} is in the workshop`,
      hint: "Import it under Firmware",
    });
  const processor = processorOf(catalogue, found.processor);
  const space = partOf(release) === LOADER_PART ? loaderSpace(processor) : applicationSpace(processor);
  const image = valueOf(
    readImageFile(await getBlob(row.sha256), processor, {
      space: space ?? applicationSpace(processor),
      layouts: layoutsOf(catalogue),
    }),
  );
  return { image, sha256: row.sha256 };
}
