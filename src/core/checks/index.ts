export * from "./asks";
export * from "./senses";
export * from "./conclude";
