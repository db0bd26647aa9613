export interface SectorRun {
  readonly count: number;
  readonly sizeBytes: number;
  readonly eraseUs: number;
}

/** A processor: its flash, its times, what its loaders are and how they name the chip. */
export interface Processor {
  readonly id: string;
  readonly title: string;
  readonly flashStart: number;
  readonly sectors: readonly SectorRun[];
  readonly programUsPerByte: number;
  /** Sectors, counted from 0, that hold the USB loader; empty when it is in ROM. */
  readonly loaderSectors: readonly number[];
  readonly settingsSectors: readonly number[];
  /** First sector of the application; it runs to the end of flash. */
  readonly applicationSector: number;
  /** Offset of the identity block from the start of the application. It ends the application's first sector. */
  readonly identityOffset: number;
  /** Absent where there is no USB: the console is reached through a serial line. */
  readonly usbLoader?: {
    readonly vendorId: number;
    readonly productId: number;
    readonly transferSizeBytes: number;
    readonly canUpload: boolean;
    /** Names of the alternate settings, as templates: {no}, {start} in hex, {length} in bytes. */
    readonly segmentName: string;
    readonly settingsName: string;
  };
  /** Which words of the chip id, counted from 0, make the id that the loader shows. */
  readonly loaderIdWords: readonly number[];
}

export interface BoardModel {
  readonly id: string;
  readonly title: string;
  readonly maker: string;
  readonly revision: string;
  readonly processor: string;
  readonly target: string;
  readonly printed: string;
  readonly bootButton: boolean;
  readonly bootPads: boolean;
  /** Whether USB alone powers the receiver, so that it can be checked without a battery. */
  readonly receiverOnUsb: boolean;
  readonly usb: { readonly vendorId: number; readonly productId: number };
}

export interface Sector {
  readonly no: number;
  readonly start: number;
  readonly sizeBytes: number;
  readonly eraseUs: number;
}

export function sectorsOf(processor: Processor): Sector[] {
  const sectors: Sector[] = [];
  let start = processor.flashStart;
  for (const run of processor.sectors) {
    for (let i = 0; i < run.count; i++) {
      sectors.push({ no: sectors.length, start, sizeBytes: run.sizeBytes, eraseUs: run.eraseUs });
      start += run.sizeBytes;
    }
  }
  return sectors;
}

/** A stretch of flash that the USB loader offers as one alternate setting: address in bytes, length in bytes. */
export interface Segment {
  readonly start: number;
  readonly lengthBytes: number;
}

/** One segment for each sector of the application, in ascending order. */
export function applicationSegments(processor: Processor): Segment[] {
  return sectorsOf(processor)
    .slice(processor.applicationSector)
    .map((sector) => ({ start: sector.start, lengthBytes: sector.sizeBytes }));
}

export function settingsSegment(processor: Processor): Segment {
  const sectors = sectorsOf(processor).filter((sector) => processor.settingsSectors.includes(sector.no));
  const first = sectors[0];
  if (!first) throw new Error(`${processor.id} has no settings sectors`);
  return { start: first.start, lengthBytes: sectors.reduce((sum, sector) => sum + sector.sizeBytes, 0) };
}

/** The id that the loader of this processor shows for a chip id of words joined by hyphens. Not always unique. */
export function loaderIdOf(chipId: string, processor: Pick<Processor, "loaderIdWords">): string {
  const words = chipId.split("-");
  return processor.loaderIdWords.map((index) => words[index] ?? "0000").join("-");
}
