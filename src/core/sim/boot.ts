import type { Layout } from "@/core/catalog";
import { imageCheck, readIdentity, MOST_IDENTITY_BYTES, type ImageSpace, type ReadIdentity } from "@/core/image";
import { readRange, type FlashMemory } from "@/core/sim/flash-memory";

/** What a processor finds when it looks for something to start. */
export type Bootable =
  | { readonly kind: "nothing" }
  | { readonly kind: "image"; readonly identity: ReadIdentity }
  /** It would start, and is not whole: what must never come to pass. */
  | { readonly kind: "half" };

/**
 * The processor starts an image when its first words and its identity block are there; it checks no more than that.
 * Whether the image is whole is found out here only to tell a true start from a half one.
 */
export function findBootable(flash: FlashMemory, space: ImageSpace, layouts: readonly Layout[]): Bootable {
  const { start, sizeBytes, identityOffset } = space;
  if (readRange(flash, start, 8).every((byte) => byte === 0xff)) return { kind: "nothing" };
  const identity = readIdentity(readRange(flash, start, identityOffset + MOST_IDENTITY_BYTES), identityOffset, layouts);
  if (!identity) return { kind: "nothing" };
  if (identity.lengthBytes > sizeBytes) return { kind: "half" };
  const image = readRange(flash, start, identity.lengthBytes);
  return imageCheck(image, identityOffset, identity.layout) === identity.imageCheck
    ? { kind: "image", identity }
    : { kind: "half" };
}
