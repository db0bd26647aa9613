import type { CatalogueDocument, DocumentKind } from "@/core/catalog/documents";

/** A document that another one names. */
export interface Named {
  readonly kind: DocumentKind;
  readonly id: string;
}

/** The documents that a document names: what it is written on top of, leads from, speaks, is laid out as and runs on. */
export function namedBy(document: CatalogueDocument): Named[] {
  const list = (field: string) => (document[field] ?? []) as readonly Readonly<Record<string, unknown>>[];
  const named = (kind: DocumentKind, id: unknown): Named[] => (typeof id === "string" ? [{ kind, id }] : []);
  const firmware = document.document === "part-release" ? "part-release" : "release";
  return [
    ...named(firmware, document.inherits),
    ...list("passages").flatMap(({ from }) => named(firmware, from)),
    ...named("idiom", document.idiom),
    ...named("layout", document.layout),
    ...named("processor", document.processor),
    ...list("targets").flatMap(({ processor }) => named("processor", processor)),
  ];
}
