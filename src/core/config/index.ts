export * from "./areas";
export * from "./configuration";
export * from "./scopes-text";
export * from "./value";
export * from "./text";
