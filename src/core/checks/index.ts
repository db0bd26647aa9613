export * from "./asks";
export * from "./senses";
export * from "./conclude";
export * from "./called";
export * from "./touched";
