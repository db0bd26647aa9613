import { findTarget, loaderIdOf, processorOf, releaseById, releaseTitle } from "@/core/catalog";
import { askCommand } from "@/core/console";
import { checkImage } from "@/core/image";
import { valueOf } from "@/core/problem";
import { count, declareOwn, done, failed, needBoard, releaseOf, type StepRunner } from "@/bench/steps/context";

/** Identity needs two signs that agree: the board's own word, and the model that the register knows by this chip. */
export const knowBoard: StepRunner = async (context) => {
  const presence = context.link.presence();
  if (presence.kind === "none")
    return needBoard(`The board of ${context.job.tag} is not on the cable.`, ["Plug its USB cable in"]);
  if (presence.kind === "usb-loader")
    return needBoard("The board shows only its loader.", [
      "Unplug it",
      "Plug it in again without touching its boot button",
    ]);
  const { identity } = await declareOwn(context);
  const release = releaseOf(context.catalogue, identity);
  const flashes = context.state.steps.some(({ id }) => id === "flash");
  if (!flashes && release.id !== context.job.goal.releaseId)
    return failed({
      code: "release-other",
      message: `The board runs ${releaseTitle(release)} now`,
      detail: `The job was ordered while it ran ${context.job.goal.releaseId}, and it writes no firmware`,
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
  if (presence.serial !== expected)
    return failed({
      code: "board-other",
      message: "Another board is in the bay",
      detail: `Its loader says ${presence.serial}; the board of ${job.tag} would say ${expected}`,
      hint: `Put the board of ${job.tag} back, then begin the step again`,
    });
  return done(
    `Its loader on ${presence.port} says ${presence.serial}, as chip ${job.chipId} gives it; the register knows it as a ${model.title} of ${job.tag}.`,
    { chipId: job.chipId, model: known.modelId },
  );
};

export const backUp: StepRunner = async (context) => {
  if (context.link.presence().kind !== "console")
    return needBoard("The board does not answer any more.", ["Unplug it and plug it in again"]);
  const { idiom } = await declareOwn(context);
  await context.progress({ say: "Reading out every profile" });
  const reply = valueOf(await askCommand(context.link.console, idiom, "recite"));
  const { id, recital } = await context.store.fileBackup(reply.raw);
  const { completeness, configuration, release } = recital;
  if (completeness.verdict !== "complete")
    return failed({
      code: "backup-incomplete",
      message: "The read-out is not complete, so nothing may be erased",
      detail: completeness.findings
        .filter((f) => f.against)
        .map((f) => f.text)
        .join(". "),
      hint: "Begin the step again; what was read is kept beside it",
    });
  const profiles = release.profiles.reduce((sum, profile) => sum + profile.count, 0);
  const told = completeness.findings.find((f) => !f.against)?.text ?? "";
  return done(
    `${count(release.settings.length, "setting")}, ${count(release.tables.length, "table")} with ${count(configuration.rows.length, "row")}, ${count(profiles, "profile")}. Complete: ${told.charAt(0).toLowerCase()}${told.slice(1)}.`,
    { backupId: id },
  );
};

/** The target by the board's own word and by its model; the image for it is looked at before anything is erased. */
export const knowTarget: StepRunner = async ({ catalogue, job, state, store }) => {
  const to = valueOf(releaseById(catalogue, job.goal.releaseId));
  const said = state.data.target;
  const model = state.data.model === undefined ? undefined : catalogue.models.get(state.data.model);
  if (said !== undefined && model && findTarget(to, said)?.id !== findTarget(to, model.target)?.id)
    return failed({
      code: "target-contradiction",
      message: "The signs for the target contradict each other",
      detail: `The board says ${said}; a ${model.title} takes ${model.target}`,
      hint: "Look at the board: which model and revision is printed on it? Correct the register, then begin the step again",
    });
  const target = findTarget(to, said ?? model?.target ?? "");
  if (!target)
    return failed({
      code: "target-missing",
      message: `${releaseTitle(to)} is not built for ${said ?? "this board"}`,
      detail: `It is built for ${to.targets.map((t) => t.id).join(", ")}`,
      hint: "Choose another release, or import a release document that has this target",
    });
  const signs = [said === undefined ? "" : "by its own word", model ? "by its model" : ""];
  const evidence = signs.filter(Boolean).join(" and ");
  const data = { target: target.id, toRelease: to.id };
  if (!state.steps.some(({ id }) => id === "flash"))
    return done(`${target.id}, ${evidence}. It stays on ${releaseTitle(to)}.`, data);
  const { image, sha256 } = await store.image(to.id, target.id);
  valueOf(checkImage(image, { processor: processorOf(catalogue, target.processor), target: target.id }));
  return done(
    `${target.id}, ${evidence}. ${releaseTitle(to)} builds it, and its image is whole: ${Math.round(image.bytes.length / 1024)} KB for ${target.processor}, SHA-256 ${sha256.slice(0, 12)}….`,
    { ...data, imageSha: sha256 },
  );
};
