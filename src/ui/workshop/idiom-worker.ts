"use client";

import { wrap, type Remote } from "comlink";
import { useCallback, useEffect, useRef } from "react";
import { refuse, type Problem, type Result } from "@/core/problem";
import type { IdiomWorker } from "@/workers/idiom.worker";

interface Running {
  readonly worker: Worker;
  readonly api: Remote<IdiomWorker>;
}
/** Has a sample read, or a definition tried on it, beside the page. */
type Ask = <T>(task: (api: Remote<IdiomWorker>) => Promise<Result<T>>) => Promise<Result<T>>;

/** The largest sample takes a tenth of it on a slow machine. */
const LIMIT_MS = 30_000;
const HINT = "Take a shorter stretch of the sample, or undo what was written last";
const SLOW: Problem = {
  code: "sample-slow",
  message: "The sample was not read in time",
  detail: `Ended after ${LIMIT_MS / 1000} s`,
  hint: HINT,
};
const BROKEN: Problem = { code: "sample-broken", message: "What reads samples has ended by itself", hint: HINT };

function begin(): Running {
  const worker = new Worker(new URL("../../workers/idiom.worker.ts", import.meta.url), {
    type: "module",
    name: "idiom",
  });
  return { worker, api: wrap<IdiomWorker>(worker) };
}

/** The worker that reads samples: made when it is first asked, made anew when it failed or took too long, ended with the page. */
export function useIdiomWorker(): Ask {
  const running = useRef<Running>(undefined);
  const end = useCallback((which: Running | undefined) => {
    which?.worker.terminate();
    if (running.current === which) running.current = undefined;
  }, []);
  useEffect(() => () => end(running.current), [end]);
  return useCallback(
    (task) => {
      const mine = (running.current ??= begin());
      return new Promise((resolve) => {
        const fail = (problem: Problem) => {
          end(mine);
          resolve(refuse(problem));
        };
        const timer = setTimeout(() => fail(SLOW), LIMIT_MS);
        const broken = () => fail(BROKEN);
        mine.worker.addEventListener("error", broken);
        void task(mine.api)
          .then(resolve, broken)
          .finally(() => {
            clearTimeout(timer);
            mine.worker.removeEventListener("error", broken);
          });
      });
    },
    [end],
  );
}
