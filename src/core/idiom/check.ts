import { buf as crc32 } from "crc-32";

/**
 * Checks that texts carry: CRC-32 (ISO-HDLC), CRC-16 (0x1021, start 0, not reflected), the sum or the exclusive or of
 * all bytes modulo 256. Written as hex digits.
 */
export const CHECK_KINDS = ["crc32", "crc16", "sum8", "xor8"] as const;
export type CheckKind = (typeof CHECK_KINDS)[number];

const encoder = new TextEncoder();

function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) {
    crc ^= byte << 8;
    for (let bit = 0; bit < 8; bit++) crc = crc & 0x8000 ? ((crc << 1) ^ 0x1021) & 0xffff : (crc << 1) & 0xffff;
  }
  return crc;
}

/** The check over a text's UTF-8 bytes, as lower-case hex digits of fixed width. */
export function checkDigits(text: string, kind: CheckKind): string {
  switch (kind) {
    case "crc32":
      return (crc32(encoder.encode(text)) >>> 0).toString(16).padStart(8, "0");
    case "crc16":
      return crc16(encoder.encode(text)).toString(16).padStart(4, "0");
    case "sum8":
      return encoder
        .encode(text)
        .reduce((sum, byte) => (sum + byte) & 0xff, 0)
        .toString(16)
        .padStart(2, "0");
    case "xor8":
      return encoder
        .encode(text)
        .reduce((all, byte) => all ^ byte, 0)
        .toString(16)
        .padStart(2, "0");
  }
}

/** The check over lines, each followed by a line feed. */
export const checkLines = (lines: readonly string[], kind: CheckKind): string =>
  checkDigits(lines.length === 0 ? "" : `${lines.join("\n")}\n`, kind);
