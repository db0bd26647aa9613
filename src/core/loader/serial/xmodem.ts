import crc16xmodem from "crc/calculators/crc16xmodem";

/**
 * XMODEM with CRC-16 (polynomial 0x1021, start 0) and blocks of 1,024 bytes, as in Forsberg's reference of 1988-10-14,
 * chapters 7 and 8: the bytes of its control.
 */
export const SOH = 0x01;
export const STX = 0x02;
export const EOT = 0x04;
export const ACK = 0x06;
export const NAK = 0x15;
export const CAN = 0x18;
/** What a last block is filled up with. */
export const SUB = 0x1a;
/** By which a receiver asks for CRC. */
export const CRC_WISH = 0x43;

export const LONG_BLOCK = 1024;
export const SHORT_BLOCK = 128;

/** How blocks are checked: by CRC-16, or by the sum of their bytes where the other side knows no CRC. */
export type Check = "crc" | "sum";

export const crc16 = (data: Uint8Array): number => crc16xmodem(data);

const sumOf = (data: Uint8Array) => data.reduce((sum, byte) => (sum + byte) & 0xff, 0);

/** Bytes of check behind a block. */
export const checkBytes = (check: Check): number => (check === "crc" ? 2 : 1);

function checkOf(data: Uint8Array, check: Check): number[] {
  if (check === "sum") return [sumOf(data)];
  const crc = crc16(data);
  return [crc >> 8, crc & 0xff];
}

/** A block as it goes over the wire: head, number, its complement, 128 or 1,024 bytes filled up with SUB, check. */
export function packet(no: number, part: Uint8Array, size: number, check: Check): Uint8Array {
  const data = new Uint8Array(size).fill(SUB);
  data.set(part);
  const head = [size === LONG_BLOCK ? STX : SOH, no & 0xff, ~no & 0xff];
  return Uint8Array.from([...head, ...data, ...checkOf(data, check)]);
}

/** Number and data of a whole packet; undefined where number or check do not hold. */
export function openPacket(
  bytes: Uint8Array,
  check: Check,
): { readonly no: number; readonly data: Uint8Array } | undefined {
  const [, no = 0, complement = 0] = bytes;
  const data = bytes.subarray(3, bytes.length - checkBytes(check));
  const checkValue = [...bytes.subarray(bytes.length - checkBytes(check))];
  const holds = ((no + complement) & 0xff) === 0xff && checkOf(data, check).every((byte, i) => byte === checkValue[i]);
  return holds ? { no, data } : undefined;
}
