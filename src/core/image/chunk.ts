import type { Problem, Result } from "@/core/problem";
import { ok, refuse } from "@/core/problem";

/** A run of bytes at an address. */
export interface Chunk {
  readonly start: number;
  readonly bytes: Uint8Array;
}

/** A record of a file: bytes at an address, and the line or block of the file that holds them. */
export interface Placed extends Chunk {
  readonly line: number;
}

/** No board has so much flash; a file that says more is not believed. */
export const MAX_IMAGE_BYTES = 8_000_000;

export const fault = (code: string, message: string, line: number, detail?: string, hint?: string): Problem => ({
  code,
  message,
  where: { line },
  ...(detail === undefined ? {} : { detail }),
  ...(hint === undefined ? {} : { hint }),
});

/** Joins records into runs in ascending order. Refuses two that write the same address. `code`: of the format. */
export function joinRecords(found: readonly Placed[], code: string): Result<Chunk[]> {
  const sorted = found.toSorted((a, b) => a.start - b.start || a.line - b.line);
  const runs: { start: number; end: number; parts: Uint8Array[] }[] = [];
  let previous: Placed | undefined;
  for (const record of sorted) {
    if (previous && previous.start + previous.bytes.length > record.start)
      return refuse(
        fault(
          `${code}-overlap`,
          "Two records write the same address",
          Math.max(record.line, previous.line),
          `Address 0x${record.start.toString(16)} is also written in line ${Math.min(record.line, previous.line)}`,
        ),
      );
    const run = runs.at(-1);
    if (run?.end === record.start) {
      run.parts.push(record.bytes);
      run.end += record.bytes.length;
    } else runs.push({ start: record.start, end: record.start + record.bytes.length, parts: [record.bytes] });
    previous = record;
  }
  return ok(
    runs.map((run) => {
      const bytes = new Uint8Array(run.end - run.start);
      let at = 0;
      for (const part of run.parts) {
        bytes.set(part, at);
        at += part.length;
      }
      return { start: run.start, bytes };
    }),
  );
}

const NO_DIGIT = 0xff;
/** Value of each ASCII hex digit. */
const DIGITS = Uint8Array.from({ length: 128 }, (_, code) => {
  const value = Number.parseInt(String.fromCharCode(code), 16);
  return Number.isNaN(value) ? NO_DIGIT : value;
});

/** The byte that two hex digits at a place of a text stand for; -1 where they are no digits. */
export function hexByte(text: string, at: number): number {
  const high = DIGITS[text.charCodeAt(at)] ?? NO_DIGIT;
  const low = DIGITS[text.charCodeAt(at + 1)] ?? NO_DIGIT;
  return high === NO_DIGIT || low === NO_DIGIT ? -1 : high * 16 + low;
}

export const hexText = (bytes: Iterable<number>): string =>
  Array.from(bytes, (byte) => byte.toString(16).toUpperCase().padStart(2, "0")).join("");

/** All chunks as one run, with the gaps filled up. Refuses what would be larger than any board's flash. */
export function fillGaps(chunks: readonly Chunk[], fill = 0xff): Result<Chunk> {
  const start = Math.min(...chunks.map((chunk) => chunk.start));
  const end = Math.max(...chunks.map((chunk) => chunk.start + chunk.bytes.length));
  if (chunks.length === 0 || end - start > MAX_IMAGE_BYTES)
    return refuse({
      code: "image-gaps",
      message: chunks.length === 0 ? "The image is empty" : "The image is too large for one run of bytes",
      detail: chunks.length === 0 ? "It holds no bytes" : `It reaches over ${end - start} bytes with its gaps`,
      hint: "A format with addresses keeps the gaps",
    });
  const bytes = new Uint8Array(end - start).fill(fill);
  for (const chunk of chunks) bytes.set(chunk.bytes, chunk.start - start);
  return ok({ start, bytes });
}
