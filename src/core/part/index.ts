export * from "./fitted";
export * from "./odd";
export * from "./region";
export * from "./wants";
