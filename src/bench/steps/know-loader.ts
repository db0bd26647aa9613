import { loaderIdOf, processorOf } from "@/core/catalog";
import { otherLoader } from "@/bench/steps/own-loader";
import { done, failed, needBoard, type StepRunner } from "@/bench/steps/context";

/** A board that says nothing is known by what its loader derives from the chip, and by what the register holds. */
export const knowLoader: StepRunner = async ({ link, job, store, catalogue }) => {
  const presence = link.presence();
  if (presence.kind !== "usb-loader")
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
  const expected = loaderIdOf(job.chipId, processorOf(catalogue, model.processor));
  if (presence.serial !== expected) return failed(otherLoader({ job }, presence.serial, expected));
  return done(
    `Its loader on ${presence.port} says ${presence.serial}, as chip ${job.chipId} gives it; the register knows it as a ${model.title} of ${job.tag}.`,
    { chipId: job.chipId, model: known.modelId },
  );
};
