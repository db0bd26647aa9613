import { strToU8, zipSync } from "fflate";
import { array, number, object, string } from "yup";
import type { CreationAttributes, Transaction } from "sequelize";
import { DOCUMENT_KINDS, namedBy, readDocument, type DocumentKind } from "@/core/catalog";
import { ProblemError, valueOf } from "@/core/problem";
import { sha256 } from "@/server/repositories/blobs";
import { currentDocuments, importDocuments, listDocuments } from "@/server/repositories/catalogue";
import { entriesOf } from "@/server/repositories/intake";
import type { Rereading } from "@/contracts/answers/read-outs";
import { previewDocuments } from "@/server/repositories/preview";
import { getDb } from "@/server/db";
import type { DocumentOrigin } from "@/server/models";
import { first, list } from "@/server/sql";

const MANIFEST = "manifest.json";
const MOST_DOCUMENTS = 400;

const manifestShape = object({
  pack: number().oneOf([1]).required(),
  family: string().min(1).max(80).required(),
  madeAt: string()
    .matches(/^\d{4}-\d{2}-\d{2}T[\d:.]{5,15}Z$/)
    .test("time", "madeAt is no time", (at) => !Number.isNaN(Date.parse(at ?? "")))
    .required(),
  madeBy: string().min(1).max(80).required(),
  documents: array(
    object({
      file: string().max(200).required(),
      kind: string().oneOf(DOCUMENT_KINDS).required(),
      id: string().min(1).max(80).required(),
      version: number().integer().min(1).max(1_000_000).required(),
      sha256: string()
        .matches(/^[0-9a-f]{64}$/)
        .required(),
      /** Who brought it in where the pack was made, and when. */
      by: string().max(80).required(),
      at: string().max(40).required(),
    }).required(),
  )
    .min(1)
    .max(MOST_DOCUMENTS)
    .required(),
});
type Manifest = ReturnType<typeof manifestShape.validateSync>;

type Current = Awaited<ReturnType<typeof currentDocuments>>[number];

/** A family's documents with everything that they name, as far as the workshop has it. */
function closureOf(family: string, all: readonly Current[]): Current[] {
  const wanted = new Map<string, Current>();
  const open = all.filter(({ body }) => body.family === family);
  const nameOf = ({ kind, id }: { kind: string; id: string }) => `${kind} ${id}`;
  const byName = new Map(all.map((each) => [nameOf(each), each]));
  for (let next = open.pop(); next; next = open.pop()) {
    if (wanted.has(nameOf(next))) continue;
    wanted.set(nameOf(next), next);
    for (const named of namedBy(next.body)) {
      const other = byName.get(nameOf(named));
      if (other) open.push(other);
    }
  }
  return [...wanted.values()].toSorted((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
}

/** A family's documents as one file: a ZIP with a manifest that names each with its hash, its version and who brought it in. */
export async function packOf(
  family: string,
  account: string,
  now: Date,
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
  const found = closureOf(family, await currentDocuments());
  if (!found.some(({ body }) => body.family === family))
    throw new ProblemError({ code: "family-none", message: `No document is of the family ${family}` });
  const summaries = new Map((await listDocuments()).map((each) => [`${each.kind} ${each.document_id}`, each]));
  const files: Record<string, Uint8Array> = {};
  const documents = found.map(({ kind, id, text }) => {
    const kept = summaries.get(`${kind} ${id}`);
    const file = `${id.replace(/[^A-Za-z0-9._-]+/g, "-")}.${kind}.yaml`;
    files[file] = strToU8(text);
    return {
      ...{ file, kind, id, version: kept?.version ?? 1, sha256: sha256(strToU8(text)) },
      ...{ by: kept?.imported_by ?? account, at: kept?.imported_at.toISOString() ?? now.toISOString() },
    };
  });
  const manifest = { pack: 1, family, madeAt: now.toISOString(), madeBy: account, documents };
  files[MANIFEST] = strToU8(`${JSON.stringify(manifest, null, 2)}\n`);
  const slug = family.toLowerCase().replace(/[^a-z0-9]+/g, "-");
  // the same documents give the same bytes, whatever the clock says
  return { name: `${slug}.pack.zip`, bytes: zipSync(files, { level: 6, mtime: "1990-01-01T00:00:00Z" }) };
}

interface Pack {
  readonly sha256: string;
  readonly manifest: Manifest;
  readonly texts: readonly string[];
}

const broken = (detail: string) =>
  new ProblemError({
    code: "pack-broken",
    message: "This is no whole pack",
    detail,
    hint: "Have it made and sent once more",
  });

/** Opens a pack: every document that its manifest names is there, byte for byte, and nothing else is. */
async function openPack(raw: Uint8Array): Promise<Pack> {
  const files = new Map((await entriesOf(raw, "pack.zip")).map(({ name, bytes }) => [name, bytes]));
  const manifestBytes = files.get(MANIFEST);
  if (!manifestBytes) throw broken(`It has no ${MANIFEST}`);
  let manifest: Manifest;
  try {
    manifest = manifestShape.validateSync(JSON.parse(new TextDecoder().decode(manifestBytes)), { strict: true });
  } catch (error) {
    throw broken(`Its ${MANIFEST}: ${error instanceof Error ? error.message : String(error)}`);
  }
  const twice = manifest.documents.find(({ kind, id }, i, all) =>
    all.some((other, j) => j < i && other.kind === kind && other.id === id),
  );
  if (twice) throw broken(`It has ${twice.kind} ${twice.id} twice`);
  const texts = manifest.documents.map(({ file, kind, id, sha256: said }) => {
    const bytes = files.get(file);
    if (!bytes) throw broken(`${file} is missing`);
    if (sha256(bytes) !== said) throw broken(`${file} is not what the manifest says`);
    const text = new TextDecoder().decode(bytes);
    const document = valueOf(readDocument(text));
    if (document.document !== kind || document.id !== id)
      throw broken(`${file} is ${document.document} ${document.id}`);
    return text;
  });
  const named = new Set([MANIFEST, ...manifest.documents.map(({ file }) => file)]);
  const stray = [...files.keys()].find((file) => !named.has(file));
  if (stray !== undefined) throw broken(`${stray} is not in its manifest`);
  return { sha256: sha256(raw), manifest, texts };
}

/** How a document of a pack stands to what the workshop has. */
export type PackState = "new" | "same" | "other";

export interface PackPreview {
  readonly family: string;
  readonly madeAt: string;
  readonly madeBy: string;
  readonly documents: readonly {
    readonly kind: string;
    readonly id: string;
    readonly version: number;
    readonly by: string;
    readonly state: PackState;
  }[];
  readonly rereading: Rereading;
}

async function statesOf({ manifest, texts }: Pack): Promise<PackPreview["documents"]> {
  const current = await currentDocuments();
  return manifest.documents.map(({ kind, id, version, by }, i) => {
    const known = current.find((each) => each.kind === kind && each.id === id);
    return { kind, id, version, by, state: !known ? "new" : known.text === texts[i] ? "same" : "other" };
  });
}

/** What a pack would bring, what of it the workshop has otherwise, and what would read differently; nothing is kept. */
export async function previewPack(raw: Uint8Array): Promise<PackPreview> {
  const pack = await openPack(raw);
  const { family, madeAt, madeBy } = pack.manifest;
  return { family, madeAt, madeBy, documents: await statesOf(pack), rereading: await previewDocuments(pack.texts) };
}

export interface PackImported {
  readonly family: string;
  readonly kept: number;
  readonly unchanged: number;
}

/**
 * Takes all documents of a pack in, or none. Those that the workshop has otherwise are told and not merged: with `over`
 * they come in as the next versions. Where each came from is kept.
 */
export async function importPack(raw: Uint8Array, over: boolean, account: string): Promise<PackImported> {
  const pack = await openPack(raw);
  const others = (await statesOf(pack)).filter(({ state }) => state === "other");
  if (others.length > 0 && !over)
    throw new ProblemError({
      code: "pack-disagrees",
      message: `The workshop has ${others.length} of its documents otherwise`,
      detail: others.map(({ id }) => id).join(", "),
      hint: "Look at them; they can come in as the next versions",
    });
  const { family, madeAt, madeBy, documents } = pack.manifest;
  const imported = await importDocuments(pack.texts, account, async (kept, transaction) => {
    for (const [i, { kind, id, version, unchanged }] of kept.entries())
      if (!unchanged)
        await noteOrigin(
          { kind, document_id: id, version },
          {
            pack_sha256: pack.sha256,
            family,
            made_at: new Date(madeAt),
            made_by: madeBy,
            version_there: documents[i]?.version ?? 1,
            account,
          },
          transaction,
        );
  });
  const unchanged = imported.filter((each) => each.unchanged).length;
  return { family, kept: imported.length - unchanged, unchanged };
}

async function noteOrigin(
  of: { readonly kind: DocumentKind; readonly document_id: string; readonly version: number },
  origin: Omit<CreationAttributes<DocumentOrigin>, "catalogue_document_id">,
  transaction: Transaction,
): Promise<void> {
  const { CatalogueDocumentRow, DocumentOrigin } = getDb();
  const version = await first(CatalogueDocumentRow, { where: of, attributes: ["id"], transaction });
  if (version) await DocumentOrigin.create({ ...origin, catalogue_document_id: version.id }, { transaction });
}

/** Where a version came from, if it came in a pack. */
export const originOf = (documentRowId: number) =>
  list(getDb().DocumentOrigin, { where: { catalogue_document_id: documentRowId } });
