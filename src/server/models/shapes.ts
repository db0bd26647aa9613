import type { DocumentKind } from "@/core/catalog";

/** A serial port of a bench's machine. */
export interface PortSeen {
  readonly path: string;
  /** What its device says of itself. */
  readonly says: string;
  readonly usb?: string;
}

/** One version of one document that something rests on. */
export interface PinnedDocument {
  readonly kind: DocumentKind;
  readonly id: string;
  readonly version: number;
  readonly sha256: string;
}
