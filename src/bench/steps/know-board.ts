import { releaseFor } from "@/core/job";
import { releaseTitle } from "@/core/catalog";
import { declareOwn, done, failed, needBoard, releaseOf, type StepRunner } from "@/bench/steps/context";

/** Identity needs two signs that agree: the board's own word, and the model that the register knows by this chip. */
export const knowBoard: StepRunner = async (context) => {
  const presence = context.link.presence();
  if (presence.kind === "none")
    return needBoard(`The board of ${context.job.tag} is not on the cable.`, ["Plug its USB cable in"]);
  if (presence.kind === "loader")
    return needBoard("The board shows only its loader.", [
      "Unplug it",
      "Plug it in again without touching its boot button",
    ]);
  const { identity } = await declareOwn(context);
  const release = releaseOf(context.catalogue, identity);
  const flashes = context.state.steps.some(({ kind, subject }) => kind === "flash" && subject === "main");
  if (!flashes && release.id !== releaseFor(context.job.goal, context.part))
    return failed({
      code: "release-other",
      message: `The board runs ${releaseTitle(release)} now`,
      detail: `The job was ordered while it ran ${releaseFor(context.job.goal, context.part) ?? ""}, and it writes no firmware`,
      hint: "Stop the job and order it anew",
    });
  const known = await context.store.knownModel();
  const model = known && context.catalogue.models.get(known.modelId);
  const sign = model ? `The register knows this chip as a ${model.title}` : "The register knows no model for this chip";
  return done(
    `${identity.board ?? "A board"} with chip ${context.job.chipId} runs ${releaseTitle(release)}, on ${presence.port}. ${sign}.`,
    {
      chipId: context.job.chipId,
      fromRelease: release.id,
      ...(identity.target === undefined ? {} : { target: identity.target }),
      ...(known ? { model: known.modelId } : {}),
    },
  );
};
