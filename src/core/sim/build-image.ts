import {
  PLAIN_LAYOUT,
  type Firmware,
  type FirmwareTarget,
  type Layout,
  type PartRelease,
  type Processor,
} from "@/core/catalog";
import { applicationSpace, loaderSpace, markOf, stampIdentity, type ImageSpace } from "@/core/image";

/** A generator of bytes that gives the same for the same seed (xorshift32). */
function bytesFrom(seed: number): () => number {
  let state = seed | 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return state & 0xff;
  };
}

const BLOCK = 8192;

/** The first words are where the processor starts from: never blank in a real image. */
function placeVector(image: Uint8Array, { start }: ImageSpace): void {
  new DataView(image.buffer).setUint32(0, 0x20010000, true);
  new DataView(image.buffer).setUint32(4, start + 0x199, true);
}

/**
 * The image of a release for a target, the same at every call: 20 to 90 % of the application space. Part of its blocks
 * depend on the family alone, as libraries do, so that neighbouring releases share them.
 */
export function buildImage(
  release: Firmware,
  target: FirmwareTarget,
  processor: Processor,
  layout: Layout = PLAIN_LAYOUT,
): Uint8Array {
  const space = applicationSpace(processor);
  const share = 0.36 + (markOf(`${release.family} ${target.id}`) % 20) / 100;
  const familyBytes = Math.floor((space.sizeBytes * share) / 64) * 64;
  const lengthBytes = familyBytes + (markOf(release.id) % 32) * 64;
  const image = new Uint8Array(lengthBytes);
  for (let at = 0; at < lengthBytes; at += BLOCK) {
    const shared = at >= familyBytes * 0.45 && at < familyBytes * 0.95;
    const next = bytesFrom(
      markOf(shared ? `${release.family} ${target.id} ${at}` : `${release.id} ${target.id} ${at}`),
    );
    for (let i = at; i < Math.min(at + BLOCK, lengthBytes); i++) image[i] = next();
  }
  placeVector(image, space);
  const identity = {
    family: release.family,
    version: release.version,
    target: target.id,
    processor: processor.id,
    regionFormat: release.region.format,
    lengthBytes,
  };
  stampIdentity(image, identity, processor.identityOffset, layout);
  return image;
}

const LOADER_SHARE = 0.8;

/** The image of a loader that lives in flash, the same at every call. Throws where the processor has no place for one. */
export function buildLoaderImage(
  release: PartRelease,
  processor: Processor,
  layout: Layout = PLAIN_LAYOUT,
): Uint8Array {
  const space = loaderSpace(processor);
  const target = release.targets.find((each) => each.processor === processor.id);
  if (!space || !target) throw new Error(`${release.id} is not built for ${processor.id}`);
  const image = new Uint8Array(Math.floor((space.sizeBytes * LOADER_SHARE) / 64) * 64);
  const next = bytesFrom(markOf(`${release.id} ${target.id}`));
  for (let i = 0; i < image.length; i++) image[i] = next();
  placeVector(image, space);
  const { family, version } = release;
  const identity = { family, version, target: target.id, processor: processor.id, regionFormat: "" };
  stampIdentity(image, { ...identity, lengthBytes: image.length }, space.identityOffset, layout);
  return image;
}
