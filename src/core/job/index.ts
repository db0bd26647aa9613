export * from "./actions";
export * from "./goal";
export * from "./journal";
export * from "./state";
export * from "./live";
