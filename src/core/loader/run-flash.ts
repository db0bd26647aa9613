import { flashProgress, startFlash, stepFlash, workOf, type FlashPart, type FlashState } from "@/core/loader/flash";
import type { Compared, Loader, OnBlock } from "@/core/loader/loader";
import { ok, refuse, type Result } from "@/core/problem";

export interface FlashReport {
  readonly state: FlashState;
  readonly doneBytes: number;
  readonly totalBytes: number;
}

/** Compares, disarms, writes, checks and arms, as `FlashState` says; reports after each block. */
export async function runFlash(
  loader: Loader,
  parts: readonly FlashPart[],
  report: (report: FlashReport) => void | Promise<void> = () => undefined,
): Promise<Result<FlashState>> {
  let state = startFlash(parts);
  for (let work = workOf(state, loader.blockBytes); work; work = workOf(state, loader.blockBytes)) {
    const current = state;
    // reports go on beside the work, one after the other; the first that fails ends it
    let reporting = Promise.resolve();
    const broken: unknown[] = [];
    const onBlock: OnBlock = (through) => {
      if (broken.length > 0) throw broken[0];
      const { doneBytes, totalBytes } = flashProgress(current);
      const extra = current.phase === "write" || current.phase === "check" ? through : 0;
      const result = report({ state: current, doneBytes: doneBytes + extra, totalBytes });
      if (result)
        reporting = Promise.all([reporting, result]).then(
          () => undefined,
          (error: unknown) => void broken.push(error),
        );
    };
    const done: Result<Compared> =
      work.kind === "compare"
        ? await loader.compare(work.space, work.bytes, onBlock)
        : written(await loader.write(work.space, work.bytes, onBlock));
    await reporting;
    if (broken.length > 0) throw broken[0];
    if (!done.ok) return done;
    state = stepFlash(state, done.value);
    await report({ state, ...flashProgress(state) });
  }
  return state.problem ? refuse(state.problem) : ok(state);
}

const written = (result: Result<undefined>): Result<Compared> => (result.ok ? ok({ equal: true }) : result);
