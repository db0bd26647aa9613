import { chipFromLoader, loaderIdOf, processorOf } from "@/core/catalog";
import { LOADER_TITLES } from "@/core/loader";
import { loaderSays, otherLoader } from "@/bench/steps/own-loader";
import { requirePart } from "@/bench/steps/lines";
import { done, failed, needBoard, type StepContext, type StepOutcome, type StepRunner } from "@/bench/steps/context";
import type { FittedPart } from "@/core/part";

/** A part behind a line says itself what it is; what it says now it has to say in every later step. */
async function knowPart(context: StepContext, part: FittedPart): Promise<StepOutcome> {
  const word = await requirePart(context, part);
  if ("kind" in word) return word;
  const processor = processorOf(context.catalogue, word.processor ?? "");
  return done(`Its serial loader says ${word.id}, and that it is a ${processor.title}.`, {
    chipId: chipFromLoader(word.id, processor),
    processor: processor.id,
  });
}

/** A board that says nothing is known by what its loader derives from the chip, and by what the register holds. */
export const knowLoader: StepRunner = async (context) => {
  if (context.fitted) return knowPart(context, context.fitted);
  const { link, job, store, catalogue } = context;
  const presence = link.presence();
  if (presence.kind !== "loader")
    return needBoard(
      presence.kind === "none" ? "The board is not on the cable." : "The board does not show its loader any more.",
      ["Plug it in as before, so that it shows its loader"],
    );
  const known = await store.knownModel();
  const model = known && catalogue.models.get(known.modelId);
  if (!known || !model)
    return failed({
      code: "model-unknown",
      message: `The register knows no model for the board of ${job.tag}`,
      hint: "Give the board to its aircraft with its model, then begin the step again",
    });
  const processor = processorOf(catalogue, model.processor);
  const expected = loaderIdOf(job.chipId, processor);
  const word = await loaderSays(context, presence, processor);
  if (word?.id !== expected) return failed(otherLoader(context, presence, word, expected));
  return done(
    `Its ${LOADER_TITLES[presence.transport]} on ${presence.port} says ${word.id}, as chip ${job.chipId} gives it; the register knows it as a ${model.title} of ${job.tag}.`,
    { chipId: job.chipId, model: known.modelId },
  );
};
