const WARM_ROUNDS = 20;

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1] ?? NaN;

/**
 * Runs two pieces of work by turns, so that whatever else the machine does meanwhile falls on both. `ratio` is the median
 * of the rounds' ratios, `ms` the median time of the first.
 */
export function alternate(work: () => unknown, yardstick: () => unknown, forMs: number): { ratio: number; ms: number } {
  const took = (run: () => unknown) => {
    const start = performance.now();
    run();
    return performance.now() - start;
  };
  // what came before lies where it lay: a running product's memory has been swept
  (globalThis as { gc?: () => void }).gc?.();
  const started = performance.now();
  for (let i = 0; i < WARM_ROUNDS && performance.now() - started < forMs / 4; i++) {
    took(work);
    took(yardstick);
  }
  const rounds: { work: number; yardstick: number }[] = [];
  while (performance.now() - started < forMs || rounds.length < 3)
    rounds.push({ work: took(work), yardstick: took(yardstick) });
  return {
    ratio: median(rounds.map((round) => round.work / round.yardstick)),
    ms: median(rounds.map((round) => round.work)),
  };
}
