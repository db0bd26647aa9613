import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { buildCatalogue, type Catalogue, type CatalogueDocument } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { readDocumentOnce } from "@/server/documents-read";

/** From the project's folder, in which all processes run. */
const FOLDER = path.resolve("demo/catalog");

export interface DemoDocument {
  readonly file: string;
  readonly text: string;
  readonly document: CatalogueDocument;
}

/** The demo world's documents, each with its file's text. */
export function demoDocuments(): DemoDocument[] {
  return readdirSync(FOLDER)
    .filter((file) => file.endsWith(".yaml"))
    .sort()
    .map((file) => {
      const text = readFileSync(path.join(FOLDER, file), "utf8");
      const document = readDocumentOnce(text);
      if (!document.ok) throw new Error(`${file}: ${JSON.stringify(document.problem)}`);
      return { file, text, document: document.value };
    });
}

let catalogue: Catalogue | undefined;

export const demoCatalogue = (): Catalogue =>
  (catalogue ??= valueOf(buildCatalogue(demoDocuments().map((d) => d.document))));
