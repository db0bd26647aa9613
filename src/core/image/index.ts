export * from "./check";
export { MAX_IMAGE_BYTES, type Chunk } from "./chunk";
export { FORMATS, formatOf, readChunks } from "./formats";
export { readHex, writeHex } from "./formats/intel-hex";
export type { FormatOptions, ImageFormat } from "./formats/format";
export * from "./identity";
export * from "./region";
