export * from "./areas";
export * from "./configuration";
export * from "./value";
