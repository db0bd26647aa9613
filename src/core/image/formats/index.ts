import type { Chunk } from "@/core/image/chunk";
import { DFU_SUFFIX } from "@/core/image/formats/dfu-suffix";
import type { FormatOptions, ImageFormat } from "@/core/image/formats/format";
import { INTEL_HEX } from "@/core/image/formats/intel-hex";
import { RAW } from "@/core/image/formats/raw";
import { S_RECORD } from "@/core/image/formats/s-record";
import { UF2 } from "@/core/image/formats/uf2";
import { ok, type Result } from "@/core/problem";

/** Every format, raw bytes last: whatever is of none of the others may be those. */
export const FORMATS: readonly ImageFormat[] = [INTEL_HEX, S_RECORD, UF2, DFU_SUFFIX, RAW];

/** The format that a file is in, by its own marks. */
export const formatOf = (file: Uint8Array): ImageFormat => FORMATS.find((format) => format.recognises(file)) ?? RAW;

/** Reads a file of any format into runs of bytes in ascending order. */
export function readChunks(file: Uint8Array, options: FormatOptions): Result<Chunk[]> {
  const read = formatOf(file).read(file, options);
  return read.ok ? ok(read.value.chunks) : read;
}
