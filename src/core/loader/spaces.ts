import { sectorsOf, settingsSegment, type Processor } from "@/core/catalog";
import type { Space } from "@/core/loader/loader";

/** The settings region, then each sector of the application: what a loader offers that is asked by address. */
export function sectorSpaces(processor: Processor): Space[] {
  const settings = settingsSegment(processor);
  const first = Math.min(...processor.settingsSectors);
  return [
    { no: first, start: settings.start, lengthBytes: settings.lengthBytes, settings: true },
    ...sectorsOf(processor)
      .slice(processor.applicationSector)
      .map(({ no, start, sizeBytes }) => ({ no, start, lengthBytes: sizeBytes, settings: false })),
  ];
}

/** Whether bytes are what was expected, as far as that goes. */
export const equalBytes = (bytes: Uint8Array, expected: Uint8Array): boolean =>
  bytes.length >= expected.length && expected.every((byte, i) => bytes[i] === byte);
