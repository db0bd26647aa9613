import { ProblemError } from "@/core/problem";
import { layoutsOf, settingsSegment } from "@/core/catalog";
import { applicationSpace, decodeRegion, MOST_IDENTITY_BYTES, numbersIn, readIdentity } from "@/core/image";
import type { Ailment } from "@/core/sim/ailment-names";
import type { SimBoard } from "@/core/sim/board";
import { eraseRange, placeBytes, readRange } from "@/core/sim/flash-memory";

/** How boards come to the bench that do not start. */
const AILMENTS = {
  /** Another tool wrote from front to back and was cut off: the image starts, and what it needs is not there. */
  "half-image": (board: SimBoard) => {
    const { start } = applicationSpace(board.processor);
    const { identityOffset } = board.processor;
    const head = readRange(board.flash, start, identityOffset + MOST_IDENTITY_BYTES);
    const block = readIdentity(head, identityOffset, layoutsOf(board.catalogue));
    const length = block?.lengthBytes ?? 0;
    eraseRange(board.flash, start + Math.floor(length / 2), length);
  },
  /** A flash that was stopped after it had disarmed the old image: only the loader is left to start. */
  disarmed: (board: SimBoard) => {
    const { start } = applicationSpace(board.processor);
    eraseRange(board.flash, start, 1);
  },
  /** The power went while settings were stored: they claim to be longer than they are, and the board restarts for ever. */
  looping: (board: SimBoard) => {
    const { start, lengthBytes } = settingsSegment(board.processor);
    const kept = readRange(board.flash, start, lengthBytes);
    const content = decodeRegion(kept, layoutsOf(board.catalogue));
    if (content.state !== "kept")
      throw new ProblemError({
        code: "sim-nothing-kept",
        message: "It keeps no settings that could be damaged",
        hint: "Let its firmware store them first",
      });
    const head = kept.slice(0, content.layout.region.headBytes);
    numbersIn(head, content.layout).set(content.layout.region.length, 0x7fff_fffe);
    placeBytes(board.flash, start, head);
  },
  /** The plug to the part that it feels through came loose. */
  "silent-part": (board: SimBoard) => {
    board.faults = { ...board.faults, partsSilent: true };
  },
  /** Another tool erased everything: neither an image nor the USB loader, where that lives in flash. */
  emptied: (board: SimBoard) => {
    eraseRange(board.flash, board.flash.start, board.flash.bytes.length);
  },
} satisfies Record<Ailment, (board: SimBoard) => void>;

/** Does to a board that is off what was done to it before it came here. */
export const afflict = (board: SimBoard, ailment: Ailment): void => AILMENTS[ailment](board);
