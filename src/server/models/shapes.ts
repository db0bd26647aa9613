import type { DocumentKind } from "@/core/catalog";

/** One version of one document that something rests on. */
export interface PinnedDocument {
  readonly kind: DocumentKind;
  readonly id: string;
  readonly version: number;
  readonly sha256: string;
}
