export * from "./board";
export * from "./likeness";
export * from "./passage";
export * from "./readiness";
export * from "./release";
export * from "./try-idiom";
export * from "./propose";
