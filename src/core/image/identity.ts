import { buf as crc32buf, str as crc32str } from "crc-32";
import { sectorsOf, type Layout, type LayoutField, type Processor, type Sector } from "@/core/catalog";

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
  readonly imageCheck: number;
  /** The layout that the block is written in. */
  readonly layout: Layout;
}

/** A block has no more bytes than this, whatever its layout. */
export const MOST_IDENTITY_BYTES = 64;

/** How a name is stored where four bytes must do. */
export const markOf = (name: string): number => crc32str(name) >>> 0;

/** The check of a layout over bytes, as an unsigned number of 32 bits. */
export const checkOf = (bytes: Uint8Array, { check }: Pick<Layout, "check">): number =>
  check === "crc32" ? crc32buf(bytes) >>> 0 : bytes.reduce((sum, byte) => (sum + byte) >>> 0, 0);

const markBytes = (hex: string): number[] => (hex.match(/../g) ?? []).map((byte) => parseInt(byte, 16));
/** Whether the bytes by which a block is known stand where a layout has them. */
export const isMarked = (bytes: Uint8Array, { at, hex }: Layout["image"]["mark"]): boolean =>
  markBytes(hex).every((byte, i) => bytes[at + i] === byte);
export const putMark = (bytes: Uint8Array, { at, hex }: Layout["image"]["mark"]): void => bytes.set(markBytes(hex), at);

/** Numbers of four bytes at places of a block, in a layout's order. */
export function numbersIn(bytes: Uint8Array, { order }: Pick<Layout, "order">) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const isLittle = order === "little";
  return {
    get: ({ at }: { readonly at: number }) => view.getUint32(at, isLittle),
    set: ({ at }: { readonly at: number }, value: number) => view.setUint32(at, value, isLittle),
  };
}

const readText = (block: Uint8Array, { at, bytes }: LayoutField) =>
  String.fromCharCode(...block.subarray(at, at + bytes)).replace(/\0+$/, "");

/** The check over a whole image, with its identity block taken as zeros. */
export function imageCheck(image: Uint8Array, identityOffset: number, layout: Layout): number {
  const copy = image.slice();
  copy.fill(0, identityOffset, identityOffset + layout.image.bytes);
  return checkOf(copy, layout);
}

/** Puts the identity block into an image. */
export function stampIdentity(image: Uint8Array, identity: ImageIdentity, offset: number, layout: Layout): void {
  const { image: at } = layout;
  const block = image.subarray(offset, offset + at.bytes).fill(0);
  const numbers = numbersIn(block, layout);
  const text = ({ at: from, bytes }: LayoutField, value: string) => {
    for (let i = 0; i < Math.min(bytes, value.length); i++) block[from + i] = value.charCodeAt(i) & 0x7f;
  };
  putMark(block, at.mark);
  text(at.family, identity.family);
  text(at.version, identity.version);
  text(at.target, identity.target);
  numbers.set(at.region, markOf(identity.regionFormat));
  numbers.set(at.length, identity.lengthBytes);
  numbers.set(at.imageCheck, imageCheck(image.subarray(0, identity.lengthBytes), offset, layout));
  numbers.set(at.processor, markOf(identity.processor));
  numbers.set(at.ownCheck, checkOf(block.subarray(0, at.ownCheck.at), layout));
}

function readBlock(bytes: Uint8Array, offset: number, layout: Layout): ReadIdentity | undefined {
  const { image: at } = layout;
  if (bytes.length < offset + at.bytes) return undefined;
  const block = bytes.subarray(offset, offset + at.bytes);
  const numbers = numbersIn(block, layout);
  if (!isMarked(block, at.mark) || numbers.get(at.ownCheck) !== checkOf(block.subarray(0, at.ownCheck.at), layout))
    return undefined;
  return {
    family: readText(block, at.family),
    version: readText(block, at.version),
    target: readText(block, at.target),
    regionMark: numbers.get(at.region),
    lengthBytes: numbers.get(at.length),
    imageCheck: numbers.get(at.imageCheck),
    processorMark: numbers.get(at.processor),
    layout,
  };
}

/** The identity block at an offset, when it is there and whole in one of the layouts. */
export function readIdentity(bytes: Uint8Array, offset: number, layouts: readonly Layout[]): ReadIdentity | undefined {
  for (const layout of layouts) {
    const found = readBlock(bytes, offset, layout);
    if (found) return found;
  }
  return undefined;
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
