export * from "./check";
export type { Chunk } from "./chunk";
export { FORMATS, formatOf } from "./formats";
export { readHex, writeHex } from "./formats/intel-hex";
export type { ImageFormat } from "./formats/format";
export * from "./identity";
export * from "./region";
