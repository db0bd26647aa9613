import { releaseById, type Release } from "@/core/catalog";
import { lacksOf, readPadSheet, sheetDocuments, type PadSheet } from "@/core/identify";
import { ProblemError, valueOf } from "@/core/problem";
import { importDocuments, loadCatalogue } from "@/server/repositories/catalogue";

interface SheetAsked {
  readonly text: string;
  readonly releaseId: string;
}

/** A sheet as the workshop's catalogue reads it for a release. */
export async function readSheet({ text, releaseId }: SheetAsked): Promise<{ sheet: PadSheet; release: Release }> {
  const catalogue = await loadCatalogue();
  const release = valueOf(releaseById(catalogue, releaseId));
  return { sheet: readPadSheet(text, release, catalogue), release };
}

/** Keeps the board of a sheet and the release that builds it, both or neither. Lines that were refused are left out. */
export async function keepSheet(asked: SheetAsked, account: string): Promise<{ board: string; title: string }> {
  const { sheet, release } = await readSheet(asked);
  const lacks = lacksOf(sheet);
  if (lacks.length > 0)
    throw new ProblemError({
      code: "sheet-incomplete",
      message: "The sheet does not say enough to keep the board",
      detail: `It lacks: ${lacks.join(", ")}`,
      hint: "Write a line for each of them",
    });
  const documents = sheetDocuments(sheet, release);
  await importDocuments([documents.board, documents.release], account);
  return { board: sheet.target.id.toLowerCase(), title: sheet.about.board ?? sheet.target.id };
}
