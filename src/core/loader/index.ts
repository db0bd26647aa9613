export * from "./drive";
export * from "./flash";
export * from "./protocol";
export * from "./transfer";
