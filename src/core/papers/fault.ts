/** What of the papers does not hold, in words. */
export interface PapersFault {
  readonly kind: "missing" | "changed" | "unsealed" | "chain" | "surplus" | "shape" | "statement" | "signature";
  readonly says: string;
}

export type Tell = (kind: PapersFault["kind"], says: string) => void;
