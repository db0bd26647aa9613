import type { Catalogue } from "@/core/catalog";
import type { Clue } from "@/core/identify/clue";
import { usbId } from "@/core/identify/kinds";

/** What a cable, a read-out and the register say of a board by themselves. */
export interface Signs {
  /** USB identity, as `0x1209:0x0020`, of whatever shows itself. */
  readonly usb?: string;
  readonly target?: string;
  readonly boardName?: string;
  /** By the register. */
  readonly modelId?: string;
  /** As a loader says. */
  readonly processor?: string;
}

/** Signs as clues. A USB identity that processors' loaders have says which processor it is, not which board. */
export function cluesOf({ usb, target, boardName, modelId, processor }: Signs, catalogue: Catalogue): Clue[] {
  const loaders = [...catalogue.processors.values()].filter((processor) =>
    processor.loaders.some((loader) => "vendorId" in loader && usbId(loader) === usb),
  );
  const [loader] = loaders;
  // several processors may share a loader's identity: then it tells none
  const shown = processor ?? (loaders.length === 1 ? loader?.id : undefined);
  return [
    ...(target === undefined ? [] : [{ kind: "target-word", seen: target }]),
    ...(boardName === undefined ? [] : [{ kind: "board-word", seen: boardName }]),
    ...(shown === undefined ? [] : [{ kind: "processor", seen: shown }]),
    ...(usb === undefined || loader ? [] : [{ kind: "usb", seen: usb }]),
    ...(modelId === undefined ? [] : [{ kind: "register", seen: modelId }]),
  ];
}
