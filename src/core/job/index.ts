export * from "./actions";
export * from "./journal";
export * from "./state";
export * from "./live";
