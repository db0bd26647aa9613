import { sectorsOf, type Processor, type Sector } from "@/core/catalog";
import type { FirmwareImage } from "@/core/image/check";

/** What a sector of flash is for: nothing of a firmware ever lies in the first two. */
export type SectorRole = "loader" | "settings" | "application" | "free";

export interface MappedSector extends Sector {
  readonly role: SectorRole;
  /** Bytes of the image that lie in it. */
  readonly usedBytes: number;
  /** Whether it holds the same already when the other image is on the board; absent where the image has nothing in it. */
  readonly equal?: boolean;
}

/** A sector's bytes when an image is on the board; what the image does not reach stays erased. */
function bytesIn({ start, sizeBytes }: Sector, image: FirmwareImage): Uint8Array {
  const bytes = new Uint8Array(sizeBytes).fill(0xff);
  const [from, to] = [Math.max(start, image.start), Math.min(start + sizeBytes, image.start + image.bytes.length)];
  if (to > from) bytes.set(image.bytes.subarray(from - image.start, to - image.start), from - start);
  return bytes;
}

function roleOf({ no }: Sector, processor: Processor, usedBytes: number): SectorRole {
  if (processor.loaderSectors.includes(no)) return "loader";
  if (processor.settingsSectors.includes(no)) return "settings";
  return usedBytes > 0 ? "application" : "free";
}

/** Where an image lies in its processor's flash, sector by sector; `before`: the image that it would be written over. */
export function imageMap(processor: Processor, image: FirmwareImage, before?: FirmwareImage): MappedSector[] {
  const end = image.start + image.bytes.length;
  return sectorsOf(processor).map((sector) => {
    const overlap = Math.min(sector.start + sector.sizeBytes, end) - Math.max(sector.start, image.start);
    const usedBytes = Math.max(0, overlap);
    const mapped = { ...sector, role: roleOf(sector, processor, usedBytes), usedBytes };
    if (!before || usedBytes === 0) return mapped;
    const [now, then] = [bytesIn(sector, image), bytesIn(sector, before)];
    return { ...mapped, equal: now.every((byte, i) => then[i] === byte) };
  });
}
