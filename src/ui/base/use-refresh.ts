"use client";

import { useRouter } from "next/navigation";
import { useCallback, useEffect, useRef, useTransition } from "react";

/** What comes in so short a time is fetched at once. */
const LEAST_PAUSE_MS = 150;
/** A fetch of which nothing was heard for so long does not hold up the next one. */
const GIVEN_UP_MS = 8_000;

/**
 * Has the page fetched again. However often it is asked for, one fetch goes on at a time, and between two there is a pause
 * as long as the last one took: a slow server or a slow browser is asked less often, and the last news is always shown.
 */
export function useRefresh(): () => void {
  const router = useRouter();
  const [going, begin] = useTransition();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const last = useRef({ began: -Infinity, tookMs: 0, going: false, wanted: false });
  const run = useCallback(() => {
    timer.current = undefined;
    Object.assign(last.current, { began: performance.now(), going: true, wanted: false });
    begin(() => router.refresh());
  }, [router]);
  const refresh = useCallback(() => {
    const state = last.current;
    state.wanted = true;
    if (timer.current !== undefined) return;
    const pause = state.going
      ? state.began + GIVEN_UP_MS - performance.now()
      : Math.max(LEAST_PAUSE_MS, state.began + 2 * state.tookMs - performance.now());
    timer.current = setTimeout(run, pause);
  }, [run]);
  useEffect(() => {
    const state = last.current;
    if (going || !state.going) return;
    Object.assign(state, { going: false, tookMs: Math.min(GIVEN_UP_MS, performance.now() - state.began) });
    clearTimeout(timer.current);
    timer.current = undefined;
    if (state.wanted) refresh();
  }, [going, refresh]);
  useEffect(() => () => clearTimeout(timer.current), []);
  return refresh;
}
