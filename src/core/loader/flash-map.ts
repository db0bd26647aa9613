import type { CellState, FlashState } from "@/core/loader/flash";
import type { Space } from "@/core/loader/loader";

/** Neighbouring spaces of a board that are alike. Address and length in bytes. */
export interface MapRun {
  readonly start: number;
  readonly lengthBytes: number;
  readonly count: number;
  /** How a space of the image stands against what is in flash; or what lies there that is left as it is. */
  readonly holds: CellState | `left: ${Space["use"]}`;
  /** It makes what is written start, and is written last. */
  readonly boot: boolean;
}

/** All that a loader offers of a board, in the order of its addresses, with what of it is equal, to be written, or left alone. */
export function flashMap({ parts, cells }: FlashState, spaces: readonly Space[]): MapRun[] {
  const runs: MapRun[] = [];
  for (const { start, lengthBytes, use } of spaces.toSorted((a, b) => a.start - b.start)) {
    const at = parts.findIndex(({ space }) => space.start === start);
    const part = parts[at];
    const run: MapRun = {
      start,
      lengthBytes,
      count: 1,
      holds: cells[at] ?? `left: ${use}`,
      boot: part?.boot ?? false,
    };
    const before = runs.at(-1);
    const isNext =
      before?.holds === run.holds && !before.boot && !run.boot && before.start + before.lengthBytes === run.start;
    if (isNext)
      runs[runs.length - 1] = { ...before, lengthBytes: before.lengthBytes + lengthBytes, count: before.count + 1 };
    else runs.push(run);
  }
  return runs;
}
