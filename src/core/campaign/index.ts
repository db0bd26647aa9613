export * from "./plans";
export * from "./standing";
