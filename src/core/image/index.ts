export * from "./check";
export * from "./hex";
export * from "./identity";
export * from "./region";
