import { buildCatalogue, readDocument, type Catalogue, type DocumentKind } from "@/core/catalog";
import { readImageFile, type FirmwareImage } from "@/core/image";
import { ProblemError, valueOf } from "@/core/problem";
import { processorOf, findTarget } from "@/core/catalog";
import { getDb } from "@/server/db";
import { getBlob, putBlob, sha256 } from "@/server/repositories/blobs";
import { inTransaction, one, rows, run } from "@/server/sql";

export interface DocumentSummary {
  readonly id: number;
  readonly kind: DocumentKind;
  readonly document_id: string;
  readonly version: number;
  readonly imported_by: string;
  readonly imported_at: Date;
}

const CURRENT =
  "select distinct on (kind, document_id) * from catalogue_documents order by kind, document_id, version desc";

// Documents change rarely and resolving them takes a moment: kept until a new one comes in.
const holder = globalThis as typeof globalThis & { freshStartCatalogue?: { stamp: string; catalogue: Catalogue } };

/** The workshop's catalogue, from the newest version of each document. */
export async function loadCatalogue(): Promise<Catalogue> {
  const stamp =
    (await one<{ stamp: string }>("select count(*) || ':' || coalesce(max(id), 0) as stamp from catalogue_documents"))
      ?.stamp ?? "";
  if (holder.freshStartCatalogue?.stamp === stamp) return holder.freshStartCatalogue.catalogue;
  const current = await rows<{ text: string }>(CURRENT);
  const catalogue = valueOf(buildCatalogue(current.map((row) => valueOf(readDocument(row.text)))));
  holder.freshStartCatalogue = { stamp, catalogue };
  return catalogue;
}

export const listDocuments = (): Promise<DocumentSummary[]> =>
  rows(
    `select id, kind, document_id, version, imported_by, imported_at from (${CURRENT}) d order by kind, document_id`,
  );

export async function documentText(id: number): Promise<{ name: string; text: string } | undefined> {
  const row = await getDb().CatalogueDocumentRow.findByPk(id);
  return row
    ? { name: `${row.document_id.replaceAll(" ", "-").toLowerCase()}.${row.kind}.v${row.version}.yaml`, text: row.text }
    : undefined;
}

/** Imports a document as the next version of its kind and id. The whole catalogue must still resolve with it. */
export async function importDocument(
  text: string,
  account: string,
): Promise<{ kind: string; id: string; version: number; unchanged: boolean }> {
  const document = valueOf(readDocument(text));
  const hash = sha256(new TextEncoder().encode(text));
  return inTransaction(async (transaction) => {
    await run("lock table catalogue_documents in exclusive mode", [], transaction);
    const last = await one<{ version: number; sha256: string }>(
      "select version, sha256 from catalogue_documents where kind = $1 and document_id = $2 order by version desc limit 1",
      [document.document, document.id],
      transaction,
    );
    const made = { kind: document.document, id: document.id };
    if (last?.sha256 === hash) return { ...made, version: last.version, unchanged: true };
    const others = await rows<{ text: string; kind: string; document_id: string }>(CURRENT, [], transaction);
    const kept = others
      .filter((row) => row.kind !== document.document || row.document_id !== document.id)
      .map((row) => valueOf(readDocument(row.text)));
    valueOf(buildCatalogue([...kept, document]));
    const version = (last?.version ?? 0) + 1;
    await getDb().CatalogueDocumentRow.create(
      { kind: document.document, document_id: document.id, version, text, sha256: hash, imported_by: account },
      { transaction },
    );
    return { ...made, version, unchanged: false };
  });
}

export interface ImageSummary {
  readonly release_id: string;
  readonly target: string;
  readonly sha256: string;
  readonly length_bytes: number;
  readonly imported_by: string;
  readonly imported_at: Date;
}

export const listImages = (): Promise<ImageSummary[]> =>
  rows(
    "select release_id, target, sha256, length_bytes, imported_by, imported_at from images order by release_id, target",
  );

/**
 * Imports an image file for a release and target. It must be whole, for the target's processor, and say of itself that
 * it is this release for this target.
 */
export async function importImage(
  file: Uint8Array,
  releaseId: string,
  target: string,
  account: string,
): Promise<ImageSummary> {
  const catalogue = await loadCatalogue();
  const release = catalogue.releases.get(releaseId);
  const found = release && findTarget(release, target);
  if (!release || !found)
    throw new ProblemError({
      code: "image-release",
      message: "No such release and target",
      detail: `${releaseId}, ${target}`,
      hint: "Import the release document first",
    });
  const image = valueOf(readImageFile(file, processorOf(catalogue, found.processor)));
  const { identity } = image;
  if (identity.family !== release.family || identity.version !== release.version || identity.target !== found.id)
    throw new ProblemError({
      code: "image-other",
      message: "The image says that it is something else",
      detail: `It calls itself ${identity.family} ${identity.version} for ${identity.target}, not ${release.family} ${release.version} for ${found.id}`,
      hint: "Choose the file that belongs to this release and target",
    });
  const hash = await putBlob(image.bytes);
  await run(
    `insert into images (release_id, target, sha256, length_bytes, imported_by) values ($1, $2, $3, $4, $5)
     on conflict (release_id, target) do update set sha256 = excluded.sha256, length_bytes = excluded.length_bytes, imported_by = excluded.imported_by, imported_at = now()`,
    [releaseId, found.id, hash, image.bytes.length, account],
  );
  return {
    release_id: releaseId,
    target: found.id,
    sha256: hash,
    length_bytes: image.bytes.length,
    imported_by: account,
    imported_at: new Date(),
  };
}

/** The stored image of a release for a target, checked once more. */
export async function loadImage(catalogue: Catalogue, releaseId: string, target: string): Promise<FirmwareImage> {
  const row = await one<{ sha256: string }>("select sha256 from images where release_id = $1 and target = $2", [
    releaseId,
    target,
  ]);
  const found = catalogue.releases.get(releaseId)?.targets.find((t) => t.id === target);
  if (!row || !found)
    throw new ProblemError({
      code: "image-none",
      message: `No image of ${releaseId} for ${target} is in the workshop`,
      hint: "Import it under Firmware",
    });
  return valueOf(readImageFile(await getBlob(row.sha256), processorOf(catalogue, found.processor)));
}
