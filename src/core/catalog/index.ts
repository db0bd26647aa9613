export * from "./catalogue";
export * from "./documents";
export * from "./hardware";
export * from "./pattern";
export * from "./release";
export * from "./resolve";
export * from "./implicit";
export * from "./lineage";
