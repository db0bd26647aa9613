export * from "./check";
export type { Chunk } from "./chunk";
export { FORMATS, formatOf } from "./formats";
export { readHex, writeHex } from "./formats/intel-hex";
export { uf2Blocks, uf2Data, UF2_BLOCK_BYTES, UF2_PAGE_BYTES } from "./formats/uf2";
export type { FileFacts, ImageFormat } from "./formats/format";
export * from "./identity";
export * from "./map";
export * from "./region";
