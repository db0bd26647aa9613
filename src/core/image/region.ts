import { crcOf, markOf } from "@/core/image/identity";

/** What a settings region turns out to be. */
export type RegionContent =
  | { readonly state: "blank" }
  /** `overruns`: it says that it is longer than it can be; a firmware that believes that restarts for ever. */
  | { readonly state: "damaged"; readonly reason: string; readonly overruns?: true }
  | { readonly state: "kept"; readonly formatMark: number; readonly payload: Uint8Array };

/** Header, little-endian: magic, format mark, payload length, CRC-32 over format mark, length and payload. */
const HEADER_BYTES = 16;
const MAGIC = 0x4e475246;

export function encodeRegion(format: string, payload: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES + payload.length);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, MAGIC, true);
  view.setUint32(4, markOf(format), true);
  view.setUint32(8, payload.length, true);
  bytes.set(payload, HEADER_BYTES);
  view.setUint32(12, regionCrc(bytes, payload.length), true);
  return bytes;
}

function regionCrc(bytes: Uint8Array, payloadBytes: number): number {
  const covered = new Uint8Array(8 + payloadBytes);
  covered.set(bytes.subarray(4, 12));
  covered.set(bytes.subarray(HEADER_BYTES, HEADER_BYTES + payloadBytes), 8);
  return crcOf(covered);
}

export function decodeRegion(bytes: Uint8Array): RegionContent {
  if (bytes.every((byte) => byte === 0xff)) return { state: "blank" };
  if (bytes.length < HEADER_BYTES) return { state: "damaged", reason: "shorter than its header" };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (view.getUint32(0, true) !== MAGIC) return { state: "damaged", reason: "no mark at its start" };
  const length = view.getUint32(8, true);
  if (HEADER_BYTES + length > bytes.length)
    return { state: "damaged", reason: "its length is larger than the region", overruns: true };
  if (view.getUint32(12, true) !== regionCrc(bytes, length))
    return { state: "damaged", reason: "its check does not fit" };
  return {
    state: "kept",
    formatMark: view.getUint32(4, true),
    payload: bytes.slice(HEADER_BYTES, HEADER_BYTES + length),
  };
}

/** One stored value: which setting or row (by its place in the release), which profile, and its written form. */
export interface RegionRecord {
  readonly ordinal: number;
  readonly profile: number;
  readonly text: string;
}

const encoder = new TextEncoder();
const decoder = new TextDecoder();

/** Records of ordinal (2 bytes), profile (1), length (1), UTF-8 text. */
export function encodeRecords(records: readonly RegionRecord[]): Uint8Array {
  const parts = records.map((record) => {
    const text = encoder.encode(record.text).subarray(0, 255);
    const bytes = new Uint8Array(4 + text.length);
    new DataView(bytes.buffer).setUint16(0, record.ordinal, true);
    bytes[2] = record.profile;
    bytes[3] = text.length;
    bytes.set(text, 4);
    return bytes;
  });
  const payload = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    payload.set(part, at);
    at += part.length;
  }
  return payload;
}

export function decodeRecords(payload: Uint8Array): RegionRecord[] {
  const records: RegionRecord[] = [];
  const view = new DataView(payload.buffer, payload.byteOffset, payload.length);
  for (let at = 0; at + 4 <= payload.length;) {
    const length = payload[at + 3] ?? 0;
    if (at + 4 + length > payload.length) break;
    records.push({
      ordinal: view.getUint16(at, true),
      profile: payload[at + 2] ?? 0,
      text: decoder.decode(payload.subarray(at + 4, at + 4 + length)),
    });
    at += 4 + length;
  }
  return records;
}
