import { fault, type Chunk } from "@/core/image/chunk";
import type { ImageFormat } from "@/core/image/formats/format";
import { AT, BLOCK, FLAGS, marksOf, MARKS } from "@/core/image/formats/uf2-block";
import { readUf2 } from "@/core/image/formats/uf2-read";
import { ok, refuse, type Result } from "@/core/problem";

/** Loaders take pages of so many bytes. */
const PAYLOAD = 256;

/** Bytes of a file that a page takes. */
export const UF2_BLOCK_BYTES = BLOCK;
export const UF2_PAGE_BYTES = PAYLOAD;

/** Chunks as blocks, in ascending order; with a family id, blocks that only its processors take. */
export function uf2Blocks(chunks: readonly Chunk[], familyId?: number): Uint8Array {
  const pages = chunks.flatMap(({ start, bytes }) =>
    Array.from({ length: Math.ceil(bytes.length / PAYLOAD) }, (_, i) => ({
      start: start + i * PAYLOAD,
      bytes: bytes.subarray(i * PAYLOAD, (i + 1) * PAYLOAD),
    })),
  );
  const file = new Uint8Array(pages.length * BLOCK);
  const view = new DataView(file.buffer);
  for (const [no, page] of pages.entries()) {
    const at = no * BLOCK;
    const set = (offset: number, value: number) => view.setUint32(at + offset, value, true);
    set(AT.first, MARKS.first);
    set(AT.second, MARKS.second);
    set(AT.address, page.start);
    set(AT.size, page.bytes.length);
    set(AT.no, no);
    set(AT.count, pages.length);
    if (familyId !== undefined) {
      set(AT.flags, FLAGS.familyGiven);
      set(AT.family, familyId);
    }
    set(AT.last, MARKS.last);
    file.set(page.bytes, at + AT.data);
  }
  return file;
}

/** The data of a stretch of whole blocks, which must lie one behind the other from an address on. */
export function uf2Data(file: Uint8Array, start: number): Result<Uint8Array> {
  const blocks = Math.floor(file.length / BLOCK);
  const data = new Uint8Array(blocks * PAYLOAD);
  const view = new DataView(file.buffer, file.byteOffset, file.length);
  for (let i = 0; i < blocks; i++) {
    const word = (offset: number) => view.getUint32(i * BLOCK + offset, true);
    if (marksOf(file, i * BLOCK) < 3 || word(AT.address) !== start + i * PAYLOAD || word(AT.size) !== PAYLOAD)
      return refuse(
        fault(
          "uf2-mark",
          "A block is not where it should be",
          i + 1,
          `Expected 0x${(start + i * PAYLOAD).toString(16)}`,
        ),
      );
    data.set(file.subarray(i * BLOCK + AT.data, i * BLOCK + AT.data + PAYLOAD), i * PAYLOAD);
  }
  return ok(data);
}

/** UF2: blocks of 512 bytes that a drive takes in any order, each with its address. */
export const UF2: ImageFormat = {
  id: "uf2",
  title: "UF2",
  extension: "uf2",
  addressed: true,
  keeps: ["familyId"],
  // the marks of one block may be damaged: two of three still say what the file is
  recognises: (file) => marksOf(file, 0) >= 2 || marksOf(file, BLOCK) >= 2,
  read: readUf2,
  write: (chunks, { familyId }) => ok(uf2Blocks(chunks, familyId)),
};
