import { loaderIdOf, processorOf } from "@/core/catalog";
import { ProblemError } from "@/core/problem";
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

export function ownLoader(context: StepContext, loader: Loader): Loader {
  if (isOwnLoader(context, loader)) return loader;
  throw new ProblemError({
    code: "board-other",
    message: "Another board is in the bay",
    detail: `Its loader says ${loader.serial}; the board of ${context.job.tag} would say ${loaderIdOf(context.job.chipId, processorOfJob(context))}`,
    hint: `Put the board of ${context.job.tag} back, then begin the step again`,
  });
}
