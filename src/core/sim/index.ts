export * from "./board";
export * from "./build-image";
export * from "./clock";
export * from "./link";
export { CHUNK_BYTES, placeBytes, type FlashMemory } from "./flash-memory";
export { startApplication, workLine, type Application, type Senses } from "./application";
export * from "./snapshot";
