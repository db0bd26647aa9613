import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { buildCatalogue, readDocument, type Catalogue, type CatalogueDocument } from "@/core/catalog";
import { valueOf } from "@/core/problem";

/** From the project's folder, in which all processes run. */
const FOLDER = path.resolve("demo/catalog");

export interface DemoDocument {
  readonly file: string;
  readonly text: string;
  readonly document: CatalogueDocument;
}

const hashOf = (text: string) => createHash("sha256").update(text).digest("hex");

/** Documents as `readDocument` has read them, by the hash of their text. */
type ReadBefore = Readonly<Record<string, CatalogueDocument>>;

/** A process that starts takes two seconds to read them all: many short ones read them once, into the file named here. */
const { DEMO_READ } = process.env;

/** The demo world's documents, each with its file's text. */
export function demoDocuments(): DemoDocument[] {
  const before = DEMO_READ === undefined ? {} : (JSON.parse(readFileSync(DEMO_READ, "utf8")) as ReadBefore);
  return readdirSync(FOLDER)
    .filter((file) => file.endsWith(".yaml"))
    .sort()
    .map((file) => {
      const text = readFileSync(path.join(FOLDER, file), "utf8");
      const known = before[hashOf(text)];
      if (known) return { file, text, document: known };
      const document = readDocument(text);
      if (!document.ok) throw new Error(`${file}: ${JSON.stringify(document.problem)}`);
      return { file, text, document: document.value };
    });
}

/** What `DEMO_READ` names. */
export const readBefore = (): ReadBefore =>
  Object.fromEntries(demoDocuments().map(({ text, document }) => [hashOf(text), document]));

let catalogue: Catalogue | undefined;

export const demoCatalogue = (): Catalogue =>
  (catalogue ??= valueOf(buildCatalogue(demoDocuments().map((d) => d.document))));
