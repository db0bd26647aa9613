import type { Problem } from "@/core/problem";
import type { Supply } from "@/core/catalog/supply";
import { transportOf, type LoaderTransport, type ProcessorLoader } from "@/core/catalog/loaders";

export type { DriveLoader, LoaderTransport, ProcessorLoader, SerialLoader, UsbLoader } from "@/core/catalog/loaders";

export interface SectorRun {
  readonly count: number;
  readonly sizeBytes: number;
  readonly eraseUs: number;
}

/** A processor's loader of a kind. */
export const loaderOf = <K extends ProcessorLoader["kind"]>(
  { loaders }: Pick<Processor, "loaders">,
  kind: K,
): Extract<ProcessorLoader, { kind: K }> | undefined =>
  loaders.find((loader): loader is Extract<ProcessorLoader, { kind: K }> => loader.kind === kind);

/** What is wrong with the loaders of a processor, if anything is: by which of two on one transport should it be asked? */
export function loadersFault({ id, loaders }: Pick<Processor, "id" | "loaders">): Problem | undefined {
  const seen = loaders.map(({ kind }) => transportOf(kind));
  const twice = seen.find((transport, i) => transport !== undefined && seen.indexOf(transport) < i);
  if (twice === undefined) return undefined;
  return {
    code: "processor-loaders",
    message: `${id} has two loaders that are reached over the same: ${twice}`,
    hint: "A processor has one loader by USB, one by a serial line, one as a drive, or fewer",
  };
}

/** The loader that a processor has on a transport: none has two on one. */
export const loaderOn = (
  { loaders }: Pick<Processor, "loaders">,
  transport: LoaderTransport,
): ProcessorLoader | undefined => loaders.find(({ kind }) => transportOf(kind) === transport);

/** A processor: its flash, its times, what its loaders are and how they name the chip. */
export interface Processor {
  readonly id: string;
  readonly title: string;
  readonly flashStart: number;
  readonly sectors: readonly SectorRun[];
  readonly programUsPerByte: number;
  /** Sectors, counted from 0, that hold the USB loader; empty when it is in ROM. */
  readonly loaderSectors: readonly number[];
  /** Offset of the identity block of a loader from the start of its first sector, which it ends. */
  readonly loaderIdentityOffset?: number;
  readonly settingsSectors: readonly number[];
  /** First sector of the application; it runs to the end of flash. */
  readonly applicationSector: number;
  /** Offset of the identity block from the start of the application. It ends the application's first sector. */
  readonly identityOffset: number;
  /** The loaders it has. Without a USB one its console is reached through a serial line. */
  readonly loaders: readonly ProcessorLoader[];
  /** Which words of the chip id, counted from 0, make the id that the loader shows. */
  readonly loaderIdWords: readonly number[];
  /** How many words a chip id has; absent: no more than the loader shows. */
  readonly chipIdWords?: number;
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
  /** Other parts that it carries and that run firmware of their own; in earlier documents by their kind alone. */
  readonly parts?: readonly (string | PartMount)[];
  readonly usb: { readonly vendorId: number; readonly productId: number };
  /** What stands at its edge in small letters, where that tells it from boards that look alike. */
  readonly smallPrint?: string;
  readonly size?: { readonly widthMm: number; readonly heightMm: number };
  /** Where on the board a thing is looked for. */
  readonly places?: Readonly<Partial<Record<BoardPlace, Spot>>>;
  readonly pads?: Readonly<Record<string, Spot>>;
}

/** Parts of one kind, as they are soldered on a board or fitted to an aircraft. */
export interface PartMount {
  /** As releases name it. */
  readonly part: string;
  /** What one of them is called. */
  readonly title: string;
  /** Where each is, in the order in which the main firmware counts them: the first is number 1. */
  readonly places: readonly string[];
  /** The target that each takes: of a speed controller the code of its power stage. */
  readonly target?: string;
  /** What feeds them; where not all are fed alike, of each in the order of the places. */
  readonly supply: Supply | readonly Supply[];
}

/** The parts that a board carries. */
export const mountsOf = ({ parts = [] }: Pick<BoardModel, "parts">): PartMount[] =>
  parts.map((each) =>
    typeof each === "string" ? { part: each, title: each, places: ["on the board"], supply: "board" } : each,
  );

export type BoardPlace = "printed" | "revision" | "smallPrint" | "button" | "processor" | "gyro" | "usb";

/** In mm from the upper left corner of the board, its arrow pointing up. */
export interface Spot {
  readonly x: number;
  readonly y: number;
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

/** One segment for each sector of the USB loader, in ascending order; none where it is in ROM. */
export const loaderSegments = (processor: Processor): Segment[] =>
  sectorsOf(processor)
    .filter(({ no }) => processor.loaderSectors.includes(no))
    .map(({ start, sizeBytes }) => ({ start, lengthBytes: sizeBytes }));

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

/** Stands in a chip id for a word that is not known yet: a loader may show only some of them. */
const UNKNOWN_WORD = "?";

/** The chip id as far as a loader's id says it. */
export function chipFromLoader(
  loaderId: string,
  { loaderIdWords, chipIdWords }: Pick<Processor, "loaderIdWords" | "chipIdWords">,
): string {
  const shown = loaderId.split("-");
  const count = Math.max(chipIdWords ?? 0, ...loaderIdWords.map((index) => index + 1));
  return Array.from({ length: count }, (_, word) => {
    const at = loaderIdWords.indexOf(word);
    return at < 0 ? UNKNOWN_WORD : (shown[at] ?? UNKNOWN_WORD);
  }).join("-");
}

export const isWholeChip = (chipId: string): boolean => !chipId.split("-").includes(UNKNOWN_WORD);

/** Whether a chip id that was told can be one that is known, perhaps not in every word. */
export function sameChip(said: string | undefined, known: string): boolean {
  if (said === undefined) return false;
  const [words, of] = [said.split("-"), known.split("-")];
  return words.length === of.length && of.every((word, i) => word === UNKNOWN_WORD || word === words[i]);
}
