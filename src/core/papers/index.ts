export * from "./archive";
export * from "./check";
