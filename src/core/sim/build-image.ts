import type { Processor, Release, ReleaseTarget } from "@/core/catalog";
import { applicationSpace, markOf, stampIdentity } from "@/core/image";

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

/**
 * The image of a release for a target, the same at every call: 20 to 90 % of the application space. Part of its blocks
 * depend on the family alone, as libraries do, so that neighbouring releases share them.
 */
export function buildImage(release: Release, target: ReleaseTarget, processor: Processor): Uint8Array {
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
  // the first words are where the processor starts from: never blank in a real image
  new DataView(image.buffer).setUint32(0, 0x20010000, true);
  new DataView(image.buffer).setUint32(4, space.start + 0x199, true);
  const identity = {
    family: release.family,
    version: release.version,
    target: target.id,
    processor: processor.id,
    regionFormat: release.region.format,
    lengthBytes,
  };
  stampIdentity(image, identity, processor.identityOffset);
  return image;
}
