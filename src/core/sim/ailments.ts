import { settingsSegment } from "@/core/catalog";
import { applicationSpace, readIdentity } from "@/core/image";
import type { SimBoard } from "@/core/sim/board";
import { eraseRange, placeBytes, readRange } from "@/core/sim/flash-memory";

/** How boards come to the bench that do not start. */
export const AILMENTS = {
  /** Another tool wrote from front to back and was cut off: the image starts, and what it needs is not there. */
  "half-image": (board: SimBoard) => {
    const { start } = applicationSpace(board.processor);
    const { identityOffset } = board.processor;
    const block = readIdentity(readRange(board.flash, start, identityOffset + 64), identityOffset);
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
    const { start } = settingsSegment(board.processor);
    placeBytes(board.flash, start + 8, Uint8Array.of(0xfe, 0xff, 0xff, 0x7f, 1, 2, 3, 4));
  },
  /** Another tool erased everything: neither an image nor the USB loader, where that lives in flash. */
  emptied: (board: SimBoard) => {
    eraseRange(board.flash, board.flash.start, board.flash.bytes.length);
  },
} as const;
export type Ailment = keyof typeof AILMENTS;

/** Does to a board that is off what was done to it before it came here. */
export const afflict = (board: SimBoard, ailment: Ailment): void => AILMENTS[ailment](board);
