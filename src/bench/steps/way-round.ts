import { modelOf } from "@/core/job";
import { loaderOn } from "@/core/catalog";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, failed, waits, type StepRunner } from "@/bench/steps/context";

/** A loader in flash is replaced only where another way in stays: by the board's documents, and by somebody's word that it is at hand. */
export const wayRound: StepRunner = async ({ state, step, catalogue, job, part, ...context }) => {
  const model = catalogue.models.get(modelOf(state, part) ?? "");
  const inRom = loaderOn(processorOfJob({ state, catalogue, job, part }), "serial") !== undefined;
  if (!model?.bootPads || !inRom)
    return failed({
      code: "loader-only-way",
      message: `The loader of ${job.tag} is the only way into it`,
      detail: `${model?.title ?? "A board of an unknown model"} ${inRom ? "has no boot pads" : "has no loader in ROM"}; if the power went while its loader is replaced, nothing could bring it back`,
      hint: "Stop the job and stay on a release that does with the loader it has",
    });
  const presence = context.link.presence();
  if (presence.kind === "loader" && presence.transport === "serial")
    return done(`It is in its serial loader in ROM now, by the boot pads of the ${model.title}: that stays.`);
  const confirmedBy = state.steps.find((each) => each.id === step)?.confirmedBy;
  if (confirmedBy === undefined)
    return waits({
      kind: "confirm",
      say: "Should the power go in the middle, the serial loader in ROM is the way back.",
      asks: ["Have a serial adapter at hand", "See that its boot pads can be reached where it sits now"],
      word: "It is so: adapter at hand, boot pads in reach",
    });
  await context.note(`Way back: boot pads and the serial loader in ROM, said by ${confirmedBy}.`);
  return done(`By its boot pads into the serial loader in ROM of the ${model.title}; confirmed by ${confirmedBy}.`);
};
