import { fault, joinRecords, MAX_IMAGE_BYTES, type Chunk, type Placed } from "@/core/image/chunk";
import type { ImageFormat } from "@/core/image/formats/format";
import { ok, refuse, type Result } from "@/core/problem";

/** A block of the format: eight words, 476 bytes of room for data, one word. Little-endian. */
const BLOCK = 512;
const FIRST = 0x0a324655;
const SECOND = 0x9e5d5157;
const LAST = 0x0ab16f30;
const AT = { second: 4, flags: 8, address: 12, size: 16, no: 20, count: 24, family: 28, data: 32, last: 508 } as const;
const ROOM = 476;
/** The block is not for the main flash: a reader passes it over. */
const NOT_MAIN_FLASH = 0x00000001;
/** The word before the data names the family of processors that the block is for. */
const FAMILY_GIVEN = 0x00002000;
/** Loaders take pages of so many bytes. */
const PAYLOAD = 256;

function read(file: Uint8Array): Result<Chunk[]> {
  if (file.length === 0 || file.length % BLOCK !== 0)
    return refuse(
      fault(
        "uf2-length",
        "The file was cut off",
        Math.floor(file.length / BLOCK) + 1,
        `${file.length} bytes are no whole number of blocks of ${BLOCK}`,
        "Fetch the file again",
      ),
    );
  const view = new DataView(file.buffer, file.byteOffset, file.length);
  const blocks = file.length / BLOCK;
  const found: Placed[] = [];
  const seen = new Set<number>();
  let total = 0;
  for (let i = 0; i < blocks; i++) {
    const at = i * BLOCK;
    const line = i + 1;
    const word = (offset: number) => view.getUint32(at + offset, true);
    if (word(0) !== FIRST || word(AT.second) !== SECOND || word(AT.last) !== LAST)
      return refuse(fault("uf2-mark", "A block does not carry the marks of its format", line));
    const [address, size, no, count] = [word(AT.address), word(AT.size), word(AT.no), word(AT.count)];
    if (size > ROOM)
      return refuse(
        fault("uf2-size", "A block says that it holds more than it has room for", line, `${size} bytes; ${ROOM} fit`),
      );
    if (count !== blocks || no >= count)
      return refuse(
        fault(
          "uf2-count",
          "Blocks are missing",
          line,
          `Block ${no} of ${count}; ${blocks} are here`,
          "Fetch the file again",
        ),
      );
    if (seen.has(no)) return refuse(fault("uf2-twice", "A block is there twice", line, `Number ${no}`));
    seen.add(no);
    if ((word(AT.flags) & NOT_MAIN_FLASH) !== 0 || size === 0) continue;
    if (address + size > 2 ** 32)
      return refuse(
        fault(
          "uf2-wrap",
          "A block runs over the end of the address space",
          line,
          `0x${address.toString(16)} and ${size} bytes`,
        ),
      );
    total += size;
    if (total > MAX_IMAGE_BYTES)
      return refuse(fault("uf2-size", "The image is too large", line, `More than ${MAX_IMAGE_BYTES} bytes`));
    found.push({ start: address, bytes: file.subarray(at + AT.data, at + AT.data + size), line });
  }
  return joinRecords(found, "uf2");
}

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
    set(0, FIRST);
    set(AT.second, SECOND);
    set(AT.address, page.start);
    set(AT.size, page.bytes.length);
    set(AT.no, no);
    set(AT.count, pages.length);
    if (familyId !== undefined) {
      set(AT.flags, FAMILY_GIVEN);
      set(AT.family, familyId);
    }
    set(AT.last, LAST);
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
    const marked = word(0) === FIRST && word(AT.second) === SECOND && word(AT.last) === LAST;
    if (!marked || word(AT.address) !== start + i * PAYLOAD || word(AT.size) !== PAYLOAD)
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
  recognises: (file) => file.length >= 4 && new DataView(file.buffer, file.byteOffset, 4).getUint32(0, true) === FIRST,
  read,
  write: (chunks) => ok(uf2Blocks(chunks)),
};
