export * from "./drive";
export * from "./send";
