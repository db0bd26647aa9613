import { PLAIN_LAYOUT, type Layout, type Processor } from "@/core/catalog";
import {
  applicationSpace,
  imageCheck,
  imageSpaces,
  markOf,
  readIdentity,
  type ImageSpace,
  type ReadIdentity,
} from "@/core/image/identity";
import type { Chunk } from "@/core/image/chunk";
import { readChunks } from "@/core/image/formats";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** An image that lies whole in a space of its processor's flash, with what it says of itself. */
export interface FirmwareImage {
  readonly start: number;
  readonly bytes: Uint8Array;
  readonly identity: ReadIdentity;
}

const kilobytes = (bytes: number) => `${(bytes / 1024).toFixed(1)} KB`;
const address = (value: number) => `0x${value.toString(16).padStart(8, "0")}`;

/** What an image is read as; by default the application, marked in the plain way. */
export interface ReadAs {
  readonly space?: ImageSpace;
  readonly layouts?: readonly Layout[];
}

/** Takes chunks as one image for a processor. Refuses what lies outside, is cut off or damaged, or carries no identity. */
export function imageFrom(
  chunks: readonly Chunk[],
  processor: Processor,
  { space = applicationSpace(processor), layouts = [PLAIN_LAYOUT] }: ReadAs = {},
): Result<FirmwareImage> {
  const end = space.start + space.sizeBytes;
  const outside = chunks.find((chunk) => chunk.start < space.start || chunk.start + chunk.bytes.length > end);
  if (outside)
    return refuse({
      code: "image-outside",
      message: `The image does not fit ${processor.title}`,
      detail: `It writes ${kilobytes(outside.bytes.length)} at ${address(outside.start)}; the ${space.use} may use ${kilobytes(space.sizeBytes)} from ${address(space.start)}`,
      hint: "Take the image that was built for this board's target",
    });
  const lengthBytes = Math.max(0, ...chunks.map((chunk) => chunk.start + chunk.bytes.length - space.start));
  const bytes = new Uint8Array(lengthBytes).fill(0xff);
  for (const chunk of chunks) bytes.set(chunk.bytes, chunk.start - space.start);
  const identity = readIdentity(bytes, space.identityOffset, layouts);
  if (!identity)
    return refuse({
      code: "image-identity",
      message: "The image does not say what it is",
      detail: `No identity block at ${address(space.start + space.identityOffset)}`,
      hint: `It may be for another processor than ${processor.title}`,
    });
  if (identity.lengthBytes !== bytes.length)
    return refuse({
      code: "image-truncated",
      message: "The image is not whole",
      detail: `Its identity block says ${identity.lengthBytes} bytes, ${bytes.length} are here`,
      hint: "Fetch the file again",
    });
  const check = imageCheck(bytes, space.identityOffset, identity.layout);
  if (check !== identity.imageCheck)
    return refuse({
      code: "image-crc",
      message: "The image is damaged",
      detail: `Its check is ${identity.imageCheck.toString(16)}, its bytes give ${check.toString(16)}`,
      hint: "Fetch the file again",
    });
  return ok({ start: space.start, bytes, identity });
}

/** Reads an image file as one for this processor. */
export function readImageFile(file: Uint8Array, processor: Processor, as: ReadAs = {}): Result<FirmwareImage> {
  const chunks = readChunks(file, { start: (as.space ?? applicationSpace(processor)).start });
  return chunks.ok ? imageFrom(chunks.value, processor, as) : chunks;
}

/**
 * Reads an image file of which nothing is known: as one for the processor that its identity block, found where that
 * processor has it, is marked for. Refuses what is for none of them, with the fault of the one that it comes nearest to.
 */
export function recogniseImage(
  file: Uint8Array,
  processors: readonly Processor[],
  layouts: readonly Layout[],
): Result<FirmwareImage> {
  const near: Problem[] = [];
  const places = processors.flatMap((processor) => imageSpaces(processor).map((space) => ({ processor, space })));
  for (const { processor, space } of places) {
    const chunks = readChunks(file, { start: space.start });
    if (!chunks.ok) return chunks;
    const image = imageFrom(chunks.value, processor, { space, layouts });
    if (image.ok && image.value.identity.processorMark === markOf(processor.id)) return image;
    // a block that is there and does not fit tells more than a block that is missing
    if (!image.ok && image.problem.code !== "image-identity" && image.problem.code !== "image-outside")
      near.push(image.problem);
  }
  const [nearest] = near;
  return refuse(
    nearest ?? {
      code: "image-identity",
      message: "The file does not say what it is",
      detail: `No identity block where ${processors.map((each) => each.title).join(", ")} have it`,
      hint: "Take a firmware image: Intel HEX, S-record, UF2, or raw bytes with or without a DFU suffix",
    },
  );
}

/**
 * Holds an image against the board it is meant for. Another processor is refused without override; another target is
 * refused with a code of its own, so that a stated reason may be asked for.
 */
export function checkImage(
  image: FirmwareImage,
  board: { readonly processor: Processor; readonly target: string },
): Result<FirmwareImage> {
  const { identity } = image;
  if (identity.processorMark !== markOf(board.processor.id))
    return refuse({
      code: "image-processor",
      message: `The image is for another processor than ${board.processor.title}`,
      detail: `It calls itself ${identity.family} ${identity.version} for ${identity.target}`,
      hint: `Take the image for ${board.target}; this one can never run here`,
    });
  if (identity.target !== board.target)
    return refuse({
      code: "image-target",
      message: `The image is for ${identity.target}, the board is ${board.target}`,
      detail: "The processor is the same, the pads are not",
      hint: `Take the image for ${board.target}, or state why this one is right`,
    });
  return ok(image);
}
