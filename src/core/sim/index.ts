export { afflict } from "./ailments";
export * from "./ailment-names";
export * from "./board";
export * from "./build-image";
export * from "./clock";
export * from "./link";
export * from "./presence";
export { CHUNK_BYTES } from "./flash-memory";
export * from "./snapshot";
