export * from "./completeness";
export * from "./definition";
export * from "./recital";
export * from "./statement";
export * from "./write";
