import type { Clock } from "@/core/sim";

/** Real ms that a board may run ahead before it is held back, and that the process may run without a pause. */
const SLACK_MS = 4;
const LONGEST_RUN_MS = 15;

export interface PacedClock extends Clock {
  setFactor(factor: number): void;
}

/** A board's clock that runs `factor` times as fast as the wall's, and also when nobody waits for it. */
export function pacedClock(startUs: number, factor: number): PacedClock {
  let baseMs = performance.now();
  let baseUs = startUs;
  let reachedUs = startUs;
  let lastPauseMs = baseMs;
  let pace = factor;
  const byWall = () => baseUs + (performance.now() - baseMs) * 1000 * pace;
  return {
    nowUs: () => (reachedUs = Math.max(reachedUs, byWall())),
    waitUntil: async (us) => {
      const aheadMs = (us - byWall()) / 1000 / pace;
      if (aheadMs > SLACK_MS) {
        await new Promise((resolve) => setTimeout(resolve, aheadMs));
        lastPauseMs = performance.now();
      } else if (performance.now() - lastPauseMs > LONGEST_RUN_MS) {
        // the process has other work too: bays, orders, the heartbeat
        await new Promise((resolve) => setImmediate(resolve));
        lastPauseMs = performance.now();
      }
      reachedUs = Math.max(reachedUs, us);
    },
    setFactor: (next) => {
      baseUs = Math.max(reachedUs, byWall());
      baseMs = performance.now();
      pace = next;
    },
  };
}
