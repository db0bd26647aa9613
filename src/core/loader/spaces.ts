import { sectorsOf, settingsSegment, type Processor } from "@/core/catalog";
import type { Space } from "@/core/loader/loader";

/** The settings region, then each sector of the application and of a loader in flash: what is offered by address. */
export function sectorSpaces(processor: Processor): Space[] {
  const settings = settingsSegment(processor);
  const first = Math.min(...processor.settingsSectors);
  return [
    { no: first, start: settings.start, lengthBytes: settings.lengthBytes, use: "settings" },
    ...sectorsOf(processor)
      .slice(processor.applicationSector)
      .map(({ no, start, sizeBytes }) => ({ no, start, lengthBytes: sizeBytes, use: "application" as const })),
    ...sectorsOf(processor)
      .filter(({ no }) => processor.loaderSectors.includes(no))
      .map(({ no, start, sizeBytes }) => ({ no, start, lengthBytes: sizeBytes, use: "loader" as const })),
  ];
}

/** Whether bytes are what was expected, as far as that goes. */
export const equalBytes = (bytes: Uint8Array, expected: Uint8Array): boolean =>
  bytes.length >= expected.length && expected.every((byte, i) => bytes[i] === byte);
