import { loaderIdOf, processorOf } from "@/core/catalog";
import { ProblemError, type Problem } from "@/core/problem";
import type { Presence } from "@/bench/link";
import type { StepContext } from "@/bench/steps/context";

export type Loader = Extract<Presence, { kind: "usb-loader" }>;

/** Whether the loader on the cable is this job's board: by the id that its processor derives from the chip id. */
export function isOwnLoader(context: StepContext, loader: Loader): boolean {
  return loader.serial === loaderIdOf(context.job.chipId, processorOfJob(context));
}

export function processorOfJob({ catalogue, state, job }: Pick<StepContext, "catalogue" | "state" | "job">) {
  const target = catalogue.releases.get(job.goal.releaseId)?.targets.find((t) => t.id === state.data.target);
  if (!target) throw new Error("the target is not known yet");
  return processorOf(catalogue, target.processor);
}

/** Another board than the job's: nothing is done to it. */
export const otherLoader = ({ job }: Pick<StepContext, "job">, said: string, expected: string): Problem => ({
  code: "board-other",
  message: "Another board is in the bay",
  detail: `Its loader says ${said}; the board of ${job.tag} would say ${expected}`,
  hint: `Put the board of ${job.tag} back, then begin the step again`,
});

export function ownLoader(context: StepContext, loader: Loader): Loader {
  if (isOwnLoader(context, loader)) return loader;
  throw new ProblemError(otherLoader(context, loader.serial, loaderIdOf(context.job.chipId, processorOfJob(context))));
}
