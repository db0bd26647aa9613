import { sectorsOf, type Processor, type Sector } from "@/core/catalog";

/** Flash as it is: an erase sets a sector to 0xFF, programming can only clear bits. */
export interface FlashMemory {
  readonly sectors: readonly Sector[];
  readonly start: number;
  readonly bytes: Uint8Array;
  /** Chunks of 4 KB that changed since they were last taken. */
  readonly dirty: Set<number>;
  /** Bytes that may still be programmed, and sectors erased, before the power goes; a fault for tests and drills. */
  programBudget: number;
  eraseBudget: number;
  /** Number of a sector in which the first byte of whatever is programmed loses bits. */
  worn: number | undefined;
}

export const CHUNK_BYTES = 4096;

export function blankFlash(processor: Processor): FlashMemory {
  const sectors = sectorsOf(processor);
  const size = sectors.reduce((sum, sector) => sum + sector.sizeBytes, 0);
  return {
    sectors,
    start: processor.flashStart,
    bytes: new Uint8Array(size).fill(0xff),
    dirty: new Set(),
    programBudget: Infinity,
    eraseBudget: Infinity,
    worn: undefined,
  };
}

const touch = (flash: FlashMemory, from: number, to: number) => {
  for (let chunk = Math.floor(from / CHUNK_BYTES); chunk * CHUNK_BYTES < to; chunk++) flash.dirty.add(chunk);
};

/** Erases the sectors that begin in a range; gives the time it takes, or `cut` when the power goes half way. */
export function eraseRange(flash: FlashMemory, start: number, lengthBytes: number): { us: number; cut: boolean } {
  let us = 0;
  for (const sector of flash.sectors) {
    if (sector.start < start || sector.start >= start + lengthBytes) continue;
    const from = sector.start - flash.start;
    const cut = flash.eraseBudget-- <= 0;
    const to = from + (cut ? sector.sizeBytes / 2 : sector.sizeBytes);
    flash.bytes.fill(0xff, from, to);
    touch(flash, from, to);
    us += sector.eraseUs;
    if (cut) return { us, cut };
  }
  return { us, cut: false };
}

/** Erases every sector but some; gives the time it takes. */
export function eraseAllBut(flash: FlashMemory, kept: readonly number[]): number {
  return flash.sectors
    .filter(({ no }) => !kept.includes(no))
    .reduce((us, { start, sizeBytes }) => us + eraseRange(flash, start, sizeBytes).us, 0);
}

/** Programs bytes; `cut` when the power went in between: the bytes before are there, the rest is not. */
export function program(flash: FlashMemory, address: number, data: Uint8Array): { cut: boolean } {
  const from = address - flash.start;
  const count = Math.min(data.length, Math.max(0, flash.programBudget));
  for (let i = 0; i < count; i++) flash.bytes[from + i] = (flash.bytes[from + i] ?? 0xff) & (data[i] ?? 0xff);
  flash.programBudget -= data.length;
  const worn = flash.worn === undefined ? undefined : flash.sectors[flash.worn];
  if (worn && count > 0 && address >= worn.start && address < worn.start + worn.sizeBytes) flash.bytes[from] = 0;
  touch(flash, from, from + count);
  return { cut: count < data.length };
}

export const readRange = (flash: FlashMemory, address: number, lengthBytes: number): Uint8Array =>
  flash.bytes.subarray(address - flash.start, address - flash.start + lengthBytes);

/** Puts bytes there without regard to the rules of flash: for a board that leaves the factory, or comes out of storage. */
export function placeBytes(flash: FlashMemory, address: number, data: Uint8Array): void {
  flash.bytes.set(data, address - flash.start);
  touch(flash, address - flash.start, address - flash.start + data.length);
}
