export * from "./archive";
export { fillBag, SIGNATURE, TAG_MANIFEST } from "./bag";
export * from "./check";
export { SIGNED_AS, type SignedPapers } from "./signature";
export { nameOf, signedBy, STATEMENT, type EntryRow, type VisitStatement } from "./statement";
