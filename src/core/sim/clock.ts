/** Time of a simulated board, in µs since it was made. The core never looks at a real clock: one is handed in. */
export interface Clock {
  nowUs(): number;
  /** Resolves when the board's time has reached `us`. */
  waitUntil(us: number): Promise<void>;
}

/** Goes on only when somebody waits, and then at once. */
export function virtualClock(startUs = 0): Clock {
  let now = startUs;
  return {
    nowUs: () => now,
    waitUntil: (us) => {
      now = Math.max(now, us);
      return Promise.resolve();
    },
  };
}
