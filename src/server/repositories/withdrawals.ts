import { keptCatalogue, DOCUMENT_KINDS, namedBy, readDocument, type DocumentKind } from "@/core/catalog";
import { ProblemError, valueOf } from "@/core/problem";
import { currentDocuments } from "@/server/repositories/catalogue";
import type { Transaction } from "sequelize";
import { inTransaction, one, rows, run } from "@/server/sql";

export interface Withdrawn {
  readonly kind: DocumentKind;
  readonly document_id: string;
  readonly reason: string;
  readonly account: string;
  readonly at: Date;
}

/** Documents that are kept and not used any more. */
export const withdrawnDocuments = (transaction?: Transaction): Promise<Withdrawn[]> =>
  rows("select kind, document_id, reason, account, at from withdrawn_documents order by at desc", [], transaction);

const isKind = (kind: string): kind is DocumentKind => DOCUMENT_KINDS.some((each) => each === kind);

const some = (names: readonly string[]) =>
  names.length > 4 ? `${names.slice(0, 4).join(", ")} and ${names.length - 4} more` : names.join(", ");

const counted = async (
  sql: string,
  id: string,
  say: (n: number) => string,
  transaction: Transaction,
): Promise<string[]> => {
  const found = await one<{ n: number }>(sql, [id], transaction);
  return found && found.n > 0 ? [say(found.n)] : [];
};

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
      ? await counted(
          "select count(*)::int as n from boards where model_id = $1",
          id,
          (n) => `${n} boards of this model`,
          transaction,
        )
      : []),
  ];
}

const restingOnRelease = async (id: string, transaction: Transaction): Promise<string[]> => [
  ...(await counted(
    "select count(*)::int as n from backups where release_id = $1",
    id,
    (n) => `${n} read-outs of it on file`,
    transaction,
  )),
  ...(await counted(
    "select count(*)::int as n from boards where release_id = $1",
    id,
    (n) => `${n} boards that run it`,
    transaction,
  )),
  ...(await counted(
    "select count(*)::int as n from images where release_id = $1",
    id,
    (n) => `${n} images of it`,
    transaction,
  )),
];

/** Takes a document out of use: it is kept, with its versions. Refused while something stands on it, and said what. */
export async function withdraw(kind: string, id: string, reason: string, account: string): Promise<void> {
  await inTransaction(async (transaction) => {
    // the same lock under which documents come in
    await run("select pg_advisory_xact_lock(4171, 2)", [], transaction);
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
    await run(
      "insert into document_standings (kind, document_id, used, reason, account) values ($1, $2, false, $3, $4)",
      [kind, id, reason, account],
      transaction,
    );
  });
}

/** Takes a withdrawn document into use again; the whole catalogue has to hold together with it. */
export async function backInUse(kind: string, id: string, account: string): Promise<void> {
  await inTransaction(async (transaction) => {
    await run("select pg_advisory_xact_lock(4171, 2)", [], transaction);
    if (!(await withdrawnDocuments(transaction)).some((each) => each.kind === kind && each.document_id === id))
      throw new ProblemError({ code: "document-none", message: `No ${kind} document ${id} is withdrawn` });
    const newest = await one<{ text: string }>(
      "select text from catalogue_documents where kind = $1 and document_id = $2 order by version desc limit 1",
      [kind, id],
      transaction,
    );
    const current = (await currentDocuments(undefined, transaction)).map(({ body }) => body);
    const built = keptCatalogue([...current, valueOf(readDocument(newest?.text ?? ""))]);
    if (!built.ok) throw new ProblemError({ ...built.problem, hint: "Take what it names into use first" });
    await run(
      "insert into document_standings (kind, document_id, used, reason, account) values ($1, $2, true, '', $3)",
      [kind, id, account],
      transaction,
    );
  });
}
