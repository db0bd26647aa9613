import { resultOf, targetOf, releaseFor } from "@/core/job";
import { loaderIdOf, processorOf, type Processor } from "@/core/catalog";
import { askLoader, LOADER_TITLES, type LoaderWord } from "@/core/loader";
import { ProblemError, type Problem } from "@/core/problem";
import type { Presence } from "@/bench/link";
import type { StepContext } from "@/bench/steps/context";

export type Loader = Extract<Presence, { kind: "loader" }>;

/** What a loader on the cable says of itself, if it answers as one of this processor would. */
export const loaderSays = (
  { link }: Pick<StepContext, "link">,
  loader: Loader,
  processor: Processor,
): Promise<LoaderWord | undefined> => askLoader(link, loader, [processor]);

/** Whether the loader on the cable is this job's board: by the id that its processor derives from the chip id. */
export async function isOwnLoader(context: StepContext, loader: Loader): Promise<boolean> {
  const processor = processorOfJob(context);
  return (await loaderSays(context, loader, processor))?.id === loaderIdOf(context.job.chipId, processor);
}

export function processorOfJob({
  catalogue,
  state,
  job,
  part,
}: Pick<StepContext, "catalogue" | "state" | "job" | "part">) {
  // a part behind a line has said it
  const { processor: said } = resultOf(state, "know-loader", part);
  if (said !== undefined) return processorOf(catalogue, said);
  const wanted = targetOf(state, part);
  const release = catalogue.releases.get(releaseFor(job.goal, part) ?? "");
  const target = release?.targets.find(({ id }) => id === wanted);
  if (!target) throw new Error("the target is not known yet");
  return processorOf(catalogue, target.processor);
}

/** Another board than the job's, or one that does not answer: nothing is done to it. */
export const otherLoader = (
  { job }: Pick<StepContext, "job">,
  loader: Loader,
  word: LoaderWord | undefined,
  expected: string,
): Problem =>
  word === undefined
    ? {
        code: "loader-silent",
        message: `Nothing answers on the ${LOADER_TITLES[loader.transport]} as this board would`,
        detail: `The board of ${job.tag} would say ${expected}`,
        hint: "Check the wires of the adapter, transmit to receive and back; then bring the board into its loader again",
      }
    : {
        code: "board-other",
        message: "Another board is in the bay",
        detail: `Its loader says ${word.id}; the board of ${job.tag} would say ${expected}`,
        hint: `Put the board of ${job.tag} back, then begin the step again`,
      };

export async function ownLoader(context: StepContext, loader: Loader): Promise<Loader> {
  const processor = processorOfJob(context);
  const word = await loaderSays(context, loader, processor);
  const expected = loaderIdOf(context.job.chipId, processor);
  if (word?.id === expected) return loader;
  throw new ProblemError(otherLoader(context, loader, word, expected));
}
