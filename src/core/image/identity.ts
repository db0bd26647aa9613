import { buf as crc32buf, str as crc32str } from "crc-32";
import { sectorsOf, type Processor, type Sector } from "@/core/catalog";

/** The block at a fixed place of every image that says what the image is. The processor starts nothing without it. */
export interface ImageIdentity {
  readonly family: string;
  readonly version: string;
  readonly target: string;
  readonly processor: string;
  readonly regionFormat: string;
  readonly lengthBytes: number;
}

export interface ReadIdentity extends Omit<ImageIdentity, "processor" | "regionFormat"> {
  readonly processorMark: number;
  readonly regionMark: number;
  readonly imageCrc: number;
}

/** Layout, little-endian: magic, family 12, version 8, target 16, region, length, image CRC, processor, reserved, own CRC. */
export const IDENTITY_BYTES = 64;
const MAGIC = 0x44495346;
const AT = {
  family: 4,
  version: 16,
  target: 24,
  region: 40,
  length: 44,
  imageCrc: 48,
  processor: 52,
  ownCrc: 60,
} as const;

/** CRC-32 (ISO-HDLC) as an unsigned number. */
export const crcOf = (bytes: Uint8Array): number => crc32buf(bytes) >>> 0;

/** How a name is stored where four bytes must do. */
export const markOf = (name: string): number => crc32str(name) >>> 0;

const readText = (bytes: Uint8Array, at: number, size: number) =>
  String.fromCharCode(...bytes.subarray(at, at + size)).replace(/\0+$/, "");

/** CRC over the whole image with the identity block taken as zeros. */
export function imageCrc(image: Uint8Array, identityOffset: number): number {
  const copy = image.slice();
  copy.fill(0, identityOffset, identityOffset + IDENTITY_BYTES);
  return crcOf(copy);
}

/** Puts the identity block into an image. */
export function stampIdentity(image: Uint8Array, identity: ImageIdentity, offset: number): void {
  const block = image.subarray(offset, offset + IDENTITY_BYTES).fill(0);
  const view = new DataView(block.buffer, block.byteOffset, IDENTITY_BYTES);
  const text = (at: number, size: number, value: string) => {
    for (let i = 0; i < Math.min(size, value.length); i++) block[at + i] = value.charCodeAt(i) & 0x7f;
  };
  view.setUint32(0, MAGIC, true);
  text(AT.family, 12, identity.family);
  text(AT.version, 8, identity.version);
  text(AT.target, 16, identity.target);
  view.setUint32(AT.region, markOf(identity.regionFormat), true);
  view.setUint32(AT.length, identity.lengthBytes, true);
  view.setUint32(AT.imageCrc, imageCrc(image.subarray(0, identity.lengthBytes), offset), true);
  view.setUint32(AT.processor, markOf(identity.processor), true);
  view.setUint32(AT.ownCrc, crcOf(block.subarray(0, AT.ownCrc)), true);
}

/** The identity block at an offset, when it is there and whole. */
export function readIdentity(bytes: Uint8Array, offset: number): ReadIdentity | undefined {
  if (bytes.length < offset + IDENTITY_BYTES) return undefined;
  const block = bytes.subarray(offset, offset + IDENTITY_BYTES);
  const view = new DataView(block.buffer, block.byteOffset, IDENTITY_BYTES);
  if (view.getUint32(0, true) !== MAGIC || view.getUint32(AT.ownCrc, true) !== crcOf(block.subarray(0, AT.ownCrc)))
    return undefined;
  return {
    family: readText(block, AT.family, 12),
    version: readText(block, AT.version, 8),
    target: readText(block, AT.target, 16),
    regionMark: view.getUint32(AT.region, true),
    lengthBytes: view.getUint32(AT.length, true),
    imageCrc: view.getUint32(AT.imageCrc, true),
    processorMark: view.getUint32(AT.processor, true),
  };
}

/** A stretch of flash that one image fills from its start. */
export interface ImageSpace {
  readonly use: "application" | "loader";
  readonly start: number;
  readonly sizeBytes: number;
  /** Of its identity block, from its start; the block ends the first sector, which is written last. */
  readonly identityOffset: number;
}

const spaceOf = (use: ImageSpace["use"], sectors: readonly Sector[], identityOffset: number, start: number) => ({
  use,
  start: sectors[0]?.start ?? start,
  sizeBytes: sectors.reduce((sum, s) => sum + s.sizeBytes, 0),
  identityOffset,
});

/** Where a processor's application lies. */
export const applicationSpace = (processor: Processor): ImageSpace =>
  spaceOf(
    "application",
    sectorsOf(processor).slice(processor.applicationSector),
    processor.identityOffset,
    processor.flashStart,
  );

/** Where its loader lies, if that is in flash and can be replaced. */
export function loaderSpace(processor: Processor): ImageSpace | undefined {
  const { loaderSectors, loaderIdentityOffset, flashStart } = processor;
  if (loaderSectors.length === 0 || loaderIdentityOffset === undefined) return undefined;
  const sectors = sectorsOf(processor).filter(({ no }) => loaderSectors.includes(no));
  return spaceOf("loader", sectors, loaderIdentityOffset, flashStart);
}

/** All that an image can be for. */
export function imageSpaces(processor: Processor): ImageSpace[] {
  const loader = loaderSpace(processor);
  return [applicationSpace(processor), ...(loader ? [loader] : [])];
}
