import type { Layout } from "@/core/catalog";
import { checkOf, isMarked, markOf, numbersIn, putMark } from "@/core/image/identity";

/** What a settings region turns out to be. `layout`: how it is kept, as far as its mark tells. */
export type RegionContent =
  | { readonly state: "blank" }
  /** `overruns`: it says that it is longer than it can be; a firmware that believes that restarts for ever. */
  | { readonly state: "damaged"; readonly reason: string; readonly overruns?: true; readonly layout?: Layout }
  | {
      readonly state: "kept";
      readonly formatMark: number;
      readonly payload: Uint8Array;
      readonly layout: Layout;
    };

export function encodeRegion(format: string, payload: Uint8Array, layout: Layout): Uint8Array {
  const { region } = layout;
  const bytes = new Uint8Array(region.headBytes + payload.length);
  const numbers = numbersIn(bytes, layout);
  putMark(bytes, region.mark);
  numbers.set(region.format, markOf(format));
  numbers.set(region.length, payload.length);
  bytes.set(payload, region.headBytes);
  numbers.set(region.check, regionCheck(bytes, payload.length, layout));
  return bytes;
}

function regionCheck(bytes: Uint8Array, payloadBytes: number, layout: Layout): number {
  const { headBytes, covers } = layout.region;
  const [from, to] = covers;
  const covered = new Uint8Array(to - from + payloadBytes);
  covered.set(bytes.subarray(from, to));
  covered.set(bytes.subarray(headBytes, headBytes + payloadBytes), to - from);
  return checkOf(covered, layout);
}

/** A region as it lies in flash, in whichever of the layouts it is kept. */
export function decodeRegion(bytes: Uint8Array, layouts: readonly Layout[]): RegionContent {
  if (bytes.every((byte) => byte === 0xff)) return { state: "blank" };
  let seen: RegionContent | undefined;
  for (const layout of layouts) {
    if (bytes.length < layout.region.headBytes || !isMarked(bytes, layout.region.mark)) continue;
    const content = decodeIn(bytes, layout);
    if (content.state === "kept") return content;
    seen ??= content;
  }
  if (seen) return seen;
  const shortest = Math.min(...layouts.map(({ region }) => region.headBytes));
  const reason = bytes.length < shortest ? "shorter than its header" : "no mark at its start";
  return { state: "damaged", reason };
}

function decodeIn(bytes: Uint8Array, layout: Layout): RegionContent {
  const { region } = layout;
  const numbers = numbersIn(bytes, layout);
  const length = numbers.get(region.length);
  if (region.headBytes + length > bytes.length)
    return { state: "damaged", reason: "its length is larger than the region", overruns: true, layout };
  if (numbers.get(region.check) !== regionCheck(bytes, length, layout))
    return { state: "damaged", reason: "its check does not fit", layout };
  return {
    state: "kept",
    formatMark: numbers.get(region.format),
    payload: bytes.slice(region.headBytes, region.headBytes + length),
    layout,
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

const putNumber = (into: Uint8Array, at: number, bytes: number, value: number, { order }: Layout) => {
  for (let i = 0; i < bytes; i++)
    into[at + (order === "little" ? i : bytes - 1 - i)] = Math.floor(value / 256 ** i) & 0xff;
};
const getNumber = (from: Uint8Array, at: number, bytes: number, { order }: Layout): number => {
  let value = 0;
  for (let i = 0; i < bytes; i++) value += (from[at + (order === "little" ? i : bytes - 1 - i)] ?? 0) * 256 ** i;
  return value;
};

/** Records of number, profile, length and UTF-8 text, each field as wide as the layout has it. */
export function encodeRecords(records: readonly RegionRecord[], layout: Layout): Uint8Array {
  const { number, profile, length } = layout.region.record;
  const head = number + profile + length;
  const parts = records.map((record) => {
    const text = encoder.encode(record.text).subarray(0, 256 ** length - 1);
    const bytes = new Uint8Array(head + text.length);
    putNumber(bytes, 0, number, record.ordinal, layout);
    putNumber(bytes, number, profile, record.profile, layout);
    putNumber(bytes, number + profile, length, text.length, layout);
    bytes.set(text, head);
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

export function decodeRecords(payload: Uint8Array, layout: Layout): RegionRecord[] {
  const { number, profile, length } = layout.region.record;
  const head = number + profile + length;
  const records: RegionRecord[] = [];
  for (let at = 0; at + head <= payload.length;) {
    const textBytes = getNumber(payload, at + number + profile, length, layout);
    if (at + head + textBytes > payload.length) break;
    records.push({
      ordinal: getNumber(payload, at, number, layout),
      profile: getNumber(payload, at + number, profile, layout),
      text: decoder.decode(payload.subarray(at + head, at + head + textBytes)),
    });
    at += head + textBytes;
  }
  return records;
}
