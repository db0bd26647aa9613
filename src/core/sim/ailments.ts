import { applicationSpace, readIdentity } from "@/core/image";
import type { SimBoard } from "@/core/sim/board";
import { eraseRange, readRange } from "@/core/sim/flash-memory";

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
} as const;
export type Ailment = keyof typeof AILMENTS;

/** Does to a board that is off what was done to it before it came here. */
export const afflict = (board: SimBoard, ailment: Ailment): void => AILMENTS[ailment](board);
