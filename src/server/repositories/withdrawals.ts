import { keptCatalogue, DOCUMENT_KINDS, namedBy, type DocumentKind } from "@/core/catalog";
import { ProblemError, valueOf } from "@/core/problem";
import { currentDocuments } from "@/server/repositories/catalogue";
import type { Transaction } from "sequelize";
import { readDocumentOnce } from "@/server/documents-read";
import { getDb } from "@/server/db";
import type { WithdrawnDocument } from "@/server/models";
import { exists, first, inTransaction, list, oneAtATime, type Row } from "@/server/sql";

export type Withdrawn = Row<WithdrawnDocument>;

/** Documents that are kept and not used any more. */
export const withdrawnDocuments = (transaction?: Transaction): Promise<Withdrawn[]> =>
  list(getDb().WithdrawnDocument, { order: [["at", "desc"]], transaction });

const isKind = (kind: string): kind is DocumentKind => DOCUMENT_KINDS.some((each) => each === kind);

const some = (names: readonly string[]) =>
  names.length > 4 ? `${names.slice(0, 4).join(", ")} and ${names.length - 4} more` : names.join(", ");

/** “3 boards of this model”; nothing where there is none. */
const counted = (n: number, of: string): string[] => (n > 0 ? [`${n} ${of}`] : []);

/** What in the workshop rests on a document, in words; empty where nothing does. */
async function restingOn(kind: DocumentKind, id: string, transaction: Transaction): Promise<string[]> {
  const others = (await currentDocuments(undefined, transaction)).filter(
    (each) => each.kind !== kind || each.id !== id,
  );
  const naming = others
    .filter(({ body }) => namedBy(body).some((named) => named.kind === kind && named.id === id))
    .map((each) => each.id);
  const held = keptCatalogue(others.map(({ body }) => body));
  return [
    ...(naming.length > 0 ? [`documents that name it: ${some(naming)}`] : []),
    ...(held.ok || naming.length > 0 ? [] : [held.problem.message]),
    ...(kind === "release" || kind === "part-release" ? await restingOnRelease(id, transaction) : []),
    ...(kind === "board-model"
      ? counted(await getDb().Board.count({ where: { model_id: id }, transaction }), "boards of this model")
      : []),
  ];
}

async function restingOnRelease(id: string, transaction: Transaction): Promise<string[]> {
  const { Backup, Board, ImageRow } = getDb();
  const where = { release_id: id };
  return [
    ...counted(await Backup.count({ where, transaction }), "read-outs of it on file"),
    ...counted(await Board.count({ where, transaction }), "boards that run it"),
    ...counted(await ImageRow.count({ where, transaction }), "images of it"),
  ];
}

/** Takes a document out of use: it is kept, with its versions. Refused while something stands on it, and said what. */
export async function withdraw(kind: string, id: string, reason: string, account: string): Promise<void> {
  await inTransaction(async (transaction) => {
    // the same lock under which documents come in
    await oneAtATime("documents", transaction);
    if (!isKind(kind) || !(await currentDocuments(kind, transaction)).some((each) => each.id === id))
      throw new ProblemError({ code: "document-none", message: `No ${kind} document ${id} is in use` });
    const resting = await restingOn(kind, id, transaction);
    if (resting.length > 0)
      throw new ProblemError({
        code: "document-used",
        message: `${id} cannot be withdrawn while something stands on it`,
        detail: resting.join("; "),
        hint: "Withdraw or change that first",
      });
    await getDb().DocumentStanding.create({ kind, document_id: id, used: false, reason, account }, { transaction });
  });
}

const isWithdrawn = (kind: DocumentKind, id: string, transaction: Transaction) =>
  exists(getDb().WithdrawnDocument, { kind, document_id: id }, transaction);

/** Takes a withdrawn document into use again; the whole catalogue has to hold together with it. */
export async function backInUse(kind: string, id: string, account: string): Promise<void> {
  await inTransaction(async (transaction) => {
    await oneAtATime("documents", transaction);
    const { CatalogueDocumentRow, DocumentStanding } = getDb();
    if (!isKind(kind) || !(await isWithdrawn(kind, id, transaction)))
      throw new ProblemError({ code: "document-none", message: `No ${kind} document ${id} is withdrawn` });
    const newest = await first(CatalogueDocumentRow, {
      where: { kind, document_id: id },
      attributes: ["text"],
      order: [["version", "desc"]],
      transaction,
    });
    const current = (await currentDocuments(undefined, transaction)).map(({ body }) => body);
    const built = keptCatalogue([...current, valueOf(readDocumentOnce(newest?.text ?? ""))]);
    if (!built.ok) throw new ProblemError({ ...built.problem, hint: "Take what it names into use first" });
    await DocumentStanding.create({ kind, document_id: id, used: true, reason: "", account }, { transaction });
  });
}
