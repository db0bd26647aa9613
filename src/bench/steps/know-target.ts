import { findTarget, processorOf, releaseById, releaseTitle } from "@/core/catalog";
import { checkImage } from "@/core/image";
import { valueOf } from "@/core/problem";
import { done, failed, type StepRunner } from "@/bench/steps/context";

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
