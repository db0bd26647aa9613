import { fault } from "@/core/image/chunk";
import { ok, refuse, type Result } from "@/core/problem";

/** A block of the format: eight words, 476 bytes of room for data, one word. Little-endian. */
export const BLOCK = 512;
export const ROOM = 476;
export const MARKS = { first: 0x0a324655, second: 0x9e5d5157, last: 0x0ab16f30 } as const;
export const AT = {
  first: 0,
  second: 4,
  flags: 8,
  address: 12,
  size: 16,
  no: 20,
  count: 24,
  family: 28,
  data: 32,
  last: 508,
} as const;

export const FLAGS = {
  /** The block is not for the main flash: a reader passes it over. */
  notMainFlash: 0x00000001,
  /** It holds a piece of a file with a name, not of flash. */
  fileContainer: 0x00001000,
  /** The word before the data names the family of processors that it is for. */
  familyGiven: 0x00002000,
  /** The last 24 bytes of its room hold the MD5 of a stretch of flash: start, length, sum. */
  md5Given: 0x00004000,
  /** Tags stand behind its data. */
  tagsGiven: 0x00008000,
} as const;

/** Bytes of the room that the sum of a stretch takes. */
const MD5_PLACE = 24;

export interface Block {
  /** Its place in the file, from 1. */
  readonly line: number;
  readonly no: number;
  readonly count: number;
  readonly address: number;
  readonly family?: number;
  readonly mainFlash: boolean;
  readonly tags: boolean;
  readonly bytes: Uint8Array;
  readonly sum?: { readonly start: number; readonly length: number; readonly md5: string };
}

export const hex32 = (value: number): string => `0x${value.toString(16).padStart(8, "0")}`;

/** How many of a block's three marks are there. */
export function marksOf(file: Uint8Array, at: number): number {
  if (file.length < at + BLOCK) return 0;
  const view = new DataView(file.buffer, file.byteOffset + at, BLOCK);
  const places = [
    [AT.first, MARKS.first],
    [AT.second, MARKS.second],
    [AT.last, MARKS.last],
  ] as const;
  return places.filter(([offset, mark]) => view.getUint32(offset, true) === mark).length;
}

const containerName = (file: Uint8Array, at: number): string =>
  new TextDecoder("latin1")
    .decode(file.subarray(at, at + 64))
    .replace(/\0.*$/s, "")
    .replace(/[^\x20-\x7e]/g, "?");

/** The block that begins at an offset of a file, or what is wrong with it. */
export function readBlock(file: Uint8Array, at: number): Result<Block> {
  const line = at / BLOCK + 1;
  if (marksOf(file, at) < 3) return refuse(fault("uf2-mark", "A block does not carry the marks of its format", line));
  const view = new DataView(file.buffer, file.byteOffset + at, BLOCK);
  const word = (offset: number) => view.getUint32(offset, true);
  const [flags, address, size] = [word(AT.flags), word(AT.address), word(AT.size)];
  const has = (flag: number) => (flags & flag) !== 0;
  const room = ROOM - (has(FLAGS.md5Given) ? MD5_PLACE : 0);
  if (size > room)
    return refuse(
      fault("uf2-size", "A block says that it holds more than it has room for", line, `${size} bytes; ${room} fit`),
    );
  if (has(FLAGS.fileContainer))
    return refuse(
      fault(
        "uf2-files",
        "The file carries files for a drive, not flash",
        line,
        `The block is a piece of “${containerName(file, at + AT.data + size)}”`,
        "Fetch the file that is for the board's flash",
      ),
    );
  if (address + size > 2 ** 32)
    return refuse(
      fault("uf2-wrap", "A block runs over the end of the address space", line, `${hex32(address)} and ${size} bytes`),
    );
  const place = AT.data + room;
  return ok({
    line,
    no: word(AT.no),
    count: word(AT.count),
    address,
    mainFlash: !has(FLAGS.notMainFlash),
    tags: has(FLAGS.tagsGiven),
    bytes: file.subarray(at + AT.data, at + AT.data + size),
    ...(has(FLAGS.familyGiven) ? { family: word(AT.family) } : {}),
    ...(has(FLAGS.md5Given)
      ? {
          sum: {
            start: word(place),
            length: word(place + 4),
            md5: Array.from(file.subarray(at + place + 8, at + place + MD5_PLACE), (byte) =>
              byte.toString(16).padStart(2, "0"),
            ).join(""),
          },
        }
      : {}),
  });
}
