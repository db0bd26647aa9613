import type { FirmwareImage } from "@/core/image";
import type { Compared, Space } from "@/core/loader/loader";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

export interface FlashPart {
  readonly space: Space;
  readonly bytes: Uint8Array;
  /** Its last block makes the image bootable. */
  readonly boot: boolean;
}

/** Which bytes go into which space. Refuses when the loader does not offer all that the image needs. */
export function partsOf(image: FirmwareImage, spaces: readonly Space[]): Result<FlashPart[]> {
  const parts: FlashPart[] = [];
  let at = image.start;
  const end = image.start + image.bytes.length;
  while (at < end) {
    const space = spaces.find((s) => s.use !== "settings" && s.start === at);
    if (!space)
      return refuse({
        code: "loader-segments",
        message: "The loader does not offer the space that the image needs",
        detail: `Nothing begins at 0x${at.toString(16)}; the image ends at 0x${end.toString(16)}`,
        hint: "The board may not be the model it was taken for",
      });
    const bytes = new Uint8Array(space.lengthBytes).fill(0xff);
    bytes.set(image.bytes.subarray(at - image.start, at - image.start + space.lengthBytes));
    parts.push({ space, bytes, boot: at === image.start });
    at += space.lengthBytes;
  }
  return ok(parts);
}

export type CellState = "unknown" | "equal" | "to-write" | "erased" | "writing" | "written" | "checked";

/**
 * The order that can be cut anywhere: compare all, then make the old image unbootable before anything else changes,
 * write and check every other segment, and the one that makes the image bootable last.
 */
export interface FlashState {
  readonly parts: readonly FlashPart[];
  readonly cells: readonly CellState[];
  readonly phase: "compare" | "disarm" | "write" | "check" | "done" | "failed";
  readonly at: number;
  /** Whether the boot segment may still start something. */
  readonly armed: boolean;
  readonly retries: number;
  readonly writtenBytes: number;
  readonly problem?: Problem;
}

const MAX_RETRIES = 2;

export const startFlash = (parts: readonly FlashPart[]): FlashState => ({
  parts,
  cells: parts.map(() => "unknown"),
  phase: "compare",
  at: 0,
  armed: true,
  retries: 0,
  writtenBytes: 0,
});

/** One piece of work on one space. */
export interface Work {
  readonly kind: "compare" | "write";
  readonly space: Space;
  readonly bytes: Uint8Array;
}

/** What the state waits for; undefined when it is done or failed. `blockBytes`: what the loader writes at a time. */
export function workOf(state: FlashState, blockBytes: number): Work | undefined {
  const part = state.parts[state.at];
  if (!part) return undefined;
  const { space, bytes } = part;
  switch (state.phase) {
    case "compare":
    case "check":
      return { kind: "compare", space, bytes };
    case "disarm":
      return { kind: "write", space, bytes: new Uint8Array(Math.min(blockBytes, space.lengthBytes)).fill(0xff) };
    case "write":
      return { kind: "write", space, bytes };
    case "done":
    case "failed":
      return undefined;
  }
}

const withCell = (cells: readonly CellState[], at: number, cell: CellState) =>
  cells.map((old, i) => (i === at ? cell : old));

/** Next segment to write: the boot segment only when it is the last one left. */
function toWrite(state: FlashState): FlashState {
  const open = state.cells.flatMap((cell, i) => (cell === "to-write" || cell === "erased" ? [i] : []));
  const next = open.find((i) => !state.parts[i]?.boot) ?? open[0];
  if (next === undefined) return { ...state, phase: "done", at: state.parts.length };
  return { ...state, phase: "write", at: next, cells: withCell(state.cells, next, "writing"), retries: 0 };
}

function afterCompare(state: FlashState): FlashState {
  const boot = state.parts.findIndex((part) => part.boot);
  if (state.cells.every((cell) => cell === "equal")) return { ...state, phase: "done", at: state.parts.length };
  return state.armed ? { ...state, phase: "disarm", at: boot } : toWrite(state);
}

/** What follows from a finished piece of work. */
export function stepFlash(state: FlashState, outcome: Compared): FlashState {
  const part = state.parts[state.at];
  if (!part) return state;
  switch (state.phase) {
    case "compare": {
      // a blank first block holds no start address: nothing can start from there
      const blank = part.boot && (outcome.head?.every((byte) => byte === 0xff) ?? false);
      const next = {
        ...state,
        cells: withCell(state.cells, state.at, outcome.equal ? "equal" : "to-write"),
        armed: part.boot ? !blank : state.armed,
        at: state.at + 1,
      };
      return next.at < state.parts.length ? next : afterCompare(next);
    }
    case "disarm":
      return toWrite({ ...state, armed: false, cells: withCell(state.cells, state.at, "erased") });
    case "write":
      return {
        ...state,
        phase: "check",
        cells: withCell(state.cells, state.at, "written"),
        writtenBytes: state.writtenBytes + part.bytes.length,
      };
    case "check":
      if (outcome.equal) return toWrite({ ...state, cells: withCell(state.cells, state.at, "checked") });
      if (state.retries < MAX_RETRIES)
        return {
          ...state,
          phase: "write",
          retries: state.retries + 1,
          cells: withCell(state.cells, state.at, "writing"),
        };
      return {
        ...state,
        phase: "failed",
        problem: {
          code: "flash-verify",
          message: `Segment ${state.at + 1} does not keep what is written to it`,
          detail: `${MAX_RETRIES + 1} attempts, ${part.space.lengthBytes} bytes at 0x${part.space.start.toString(16)}`,
          hint: "The flash may be worn; this board should not fly again",
        },
      };
    case "done":
    case "failed":
      return state;
  }
}

/** Bytes that still have to go through the cable, and all of them, for a bar: writing and checking count alike. */
export function flashProgress(state: FlashState): { doneBytes: number; totalBytes: number } {
  let doneBytes = 0;
  let totalBytes = 0;
  for (const [i, part] of state.parts.entries()) {
    const cell = state.cells[i];
    if (cell === "equal") continue;
    totalBytes += 2 * part.bytes.length;
    doneBytes += cell === "checked" ? 2 * part.bytes.length : cell === "written" ? part.bytes.length : 0;
  }
  return { doneBytes, totalBytes };
}
