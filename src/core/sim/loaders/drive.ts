import type { DriveLoader } from "@/core/catalog";
import { eraseRange, program, readRange } from "@/core/sim/flash-memory";
import { USB_OVERHEAD_US, type DriveDevice, type LoaderHost } from "@/core/sim/loaders/device";

/** A drive over USB takes so long for each byte. */
const US_PER_BYTE = 1;
const BLOCK = 512;
const PAGE = 256;
const [FIRST, SECOND, LAST] = [0x0a324655, 0x9e5d5157, 0x0ab16f30];
const FAMILY_GIVEN = 0x2000;
const NOT_MAIN_FLASH = 1;

/**
 * A drive that takes UF2 blocks in any order, repeats included, and says nothing about errors. A sector is erased when the
 * first block of a file touches it; a file is over when all its blocks were there. It shows what it holds as a file.
 */
export class DriveLoaderDevice implements DriveDevice {
  readonly transport = "drive" as const;
  private erased = new Set<number>();
  private had = new Set<number>();
  private count = 0;
  private blocks = 0;

  constructor(
    private readonly loader: DriveLoader,
    private readonly host: LoaderHost,
  ) {}

  shown() {
    const { vendorId, productId } = this.loader;
    return { transport: this.transport, vendorId, productId, serial: this.host.loaderId };
  }

  write(bytes: Uint8Array, atUs: number): number {
    if (this.host.protected()) {
      this.host.lift(atUs);
      return atUs;
    }
    let us = 0;
    for (let at = 0; at + BLOCK <= bytes.length; at += BLOCK)
      us += this.takeBlock(bytes.subarray(at, at + BLOCK), atUs + us);
    // the cable and the flash work at once: the slower one counts
    return atUs + Math.max(bytes.length * US_PER_BYTE, us);
  }

  private takeBlock(block: Uint8Array, nowUs: number): number {
    const word = (at: number) => new DataView(block.buffer, block.byteOffset).getUint32(at, true);
    if (word(0) !== FIRST || word(4) !== SECOND || word(BLOCK - 4) !== LAST) return 0;
    const { loader } = this;
    const { processor, flash, stallEvery, failPower } = this.host;
    const [flags, address, size, no, count, family] = [8, 12, 16, 20, 24, 28].map(word) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    const foreign = (flags & FAMILY_GIVEN) === 0 || family !== loader.familyId || (flags & NOT_MAIN_FLASH) !== 0;
    this.blocks++;
    const every = stallEvery();
    if (every > 0 && this.blocks % every === 0) return 0;
    if (foreign || size !== PAGE || address % PAGE !== 0) return 0;
    if (address < flash.start || address + size > flash.start + flash.bytes.length) return 0;
    if (count !== this.count || this.had.size >= this.count) {
      this.count = count;
      this.had = new Set();
      this.erased = new Set();
    }
    this.had.add(no);
    const sector = flash.sectors.find(({ start, sizeBytes }) => address >= start && address < start + sizeBytes);
    if (!sector) return 0;
    let us = 0;
    if (!this.erased.has(sector.no)) {
      this.erased.add(sector.no);
      const gone = eraseRange(flash, sector.start, sector.sizeBytes);
      us += gone.us;
      if (gone.cut) {
        failPower(nowUs + us);
        return us;
      }
    }
    // a word with ECC is programmed once after an erase: a repeat leaves it as it is
    if (!readRange(flash, address, size).every((byte) => byte === 0xff)) return us;
    const written = program(flash, address, block.subarray(32, 32 + size));
    us += size * processor.programUsPerByte;
    if (written.cut) failPower(nowUs + us);
    return us;
  }

  read(name: string, offset: number, length: number, atUs: number) {
    const bytes = this.host.protected() ? undefined : this.bytesOf(name, offset, length);
    return { ...(bytes ? { bytes } : {}), doneUs: atUs + USB_OVERHEAD_US + (bytes?.length ?? 0) * US_PER_BYTE };
  }

  private bytesOf(name: string, offset: number, length: number): Uint8Array | undefined {
    const { loader } = this;
    const { flash } = this.host;
    if (name !== loader.holds) return undefined;
    const pages = flash.bytes.length / PAGE;
    const first = Math.floor(offset / BLOCK);
    const last = Math.min(pages, Math.ceil((offset + length) / BLOCK));
    const file = new Uint8Array(Math.max(0, last - first) * BLOCK);
    const view = new DataView(file.buffer);
    for (let page = first; page < last; page++) {
      const at = (page - first) * BLOCK;
      const address = flash.start + page * PAGE;
      [FIRST, SECOND, FAMILY_GIVEN, address, PAGE, page, pages, loader.familyId].forEach((value, i) =>
        view.setUint32(at + 4 * i, value, true),
      );
      file.set(readRange(flash, address, PAGE), at + 32);
      view.setUint32(at + BLOCK - 4, LAST, true);
    }
    return file.subarray(offset - first * BLOCK, offset - first * BLOCK + length);
  }
}
