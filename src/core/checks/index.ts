export * from "./asks";
export * from "./senses";
