import { releaseById } from "@/core/catalog";
import { boardDocuments, type BoardParticulars, type MadeDocument, type ProcessorParticulars } from "@/core/learn";
import { ProblemError, valueOf } from "@/core/problem";
import { currentDocuments, importDocuments, loadCatalogue, type Imported } from "@/server/repositories/catalogue";
import { rows } from "@/server/sql";

export interface BoardAsked {
  readonly releaseId: string;
  readonly board: BoardParticulars;
  readonly processor: ProcessorParticulars | undefined;
  /** Keeps the documents; else they are only shown. */
  readonly keep: boolean;
}

export interface BoardMade {
  readonly documents: readonly MadeDocument[];
  readonly kept: readonly Imported[];
}

/** A board by its particulars: its documents, and all of them kept or none. */
export async function makeBoardDocuments(asked: BoardAsked, account: string): Promise<BoardMade> {
  const catalogue = await loadCatalogue();
  const release = valueOf(releaseById(catalogue, asked.releaseId));
  const written = (await currentDocuments("release")).find(({ id }) => id === release.id);
  if (!written)
    throw new ProblemError({ code: "release-unknown", message: `The catalogue has no release “${asked.releaseId}”` });
  const documents = valueOf(boardDocuments(asked.board, asked.processor, release, written.text, catalogue));
  if (!asked.keep) return { documents, kept: [] };
  const texts = documents.map(({ text }) => text);
  return { documents, kept: await importDocuments(texts, account) };
}

/** Targets that read-outs on file name and their release does not have, by release. */
export const targetsNamed = (): Promise<{ releaseId: string; target: string }[]> =>
  rows(`select distinct release_id as "releaseId", target from backups
        where part is null and release_id is not null and target is not null order by 1, 2 limit 500`);
