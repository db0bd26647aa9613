"use client";

import { wrap } from "comlink";
import type { Toll } from "@/core/toll";
import type { TollWorker } from "@/workers/toll.worker";

/** The most work there is takes a twentieth of it on a slow machine. */
const LIMIT_MS = 60_000;

/** Does the work that an attempt costs, beside the page; gives what is sent along with it, or nothing when it took too long. */
export async function payBeside(toll: Toll): Promise<string | undefined> {
  const worker = new Worker(new URL("../../workers/toll.worker.ts", import.meta.url), { type: "module", name: "toll" });
  try {
    const number = await Promise.race([
      wrap<TollWorker>(worker).payToll(toll),
      new Promise<undefined>((resolve) => {
        setTimeout(() => resolve(undefined), LIMIT_MS);
        worker.addEventListener("error", () => resolve(undefined));
      }),
    ]);
    return number === undefined ? undefined : `${toll.token}.${number}`;
  } finally {
    worker.terminate();
  }
}
