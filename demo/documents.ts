import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { buildCatalogue, readDocument, type Catalogue, type CatalogueDocument } from "@/core/catalog";
import { valueOf } from "@/core/problem";

/** From the project's folder, in which all processes run. */
const FOLDER = path.resolve("demo/catalog");

/** The demo world's documents, each with its file's text. */
export function demoDocuments(): { file: string; text: string; document: CatalogueDocument }[] {
  return readdirSync(FOLDER)
    .filter((file) => file.endsWith(".yaml"))
    .sort()
    .map((file) => {
      const text = readFileSync(path.join(FOLDER, file), "utf8");
      const document = readDocument(text);
      if (!document.ok) throw new Error(`${file}: ${JSON.stringify(document.problem)}`);
      return { file, text, document: document.value };
    });
}

let catalogue: Catalogue | undefined;

export const demoCatalogue = (): Catalogue =>
  (catalogue ??= valueOf(buildCatalogue(demoDocuments().map((d) => d.document))));
