import { findTarget, partOf, processorOf, releaseTitle, type Release } from "@/core/catalog";
import { compareTargets, newestBuildOf } from "@/core/identify";
import { checkImage } from "@/core/image";
import { byModel, detourOf, insteadOf, releaseFor, resultOf, modelOf } from "@/core/job";
import { partTitle, type FittedPart } from "@/core/part";
import { valueOf, type Problem } from "@/core/problem";
import { seePart, seenTitle } from "@/bench/steps/part-identity";
import { processorOfJob } from "@/bench/steps/own-loader";
import { contradicted } from "@/bench/steps/holding";
import {
  count,
  detourWanted,
  done,
  failed,
  firmwareWanted,
  type StepContext,
  type StepOutcome,
  type StepRunner,
  releaseWanted,
} from "@/bench/steps/context";

interface Signs {
  readonly said: string | undefined;
  readonly model: { readonly title: string; readonly target: string } | undefined;
  /** What the register holds: it may have been given another target on purpose. */
  readonly registered: string | undefined;
}

/** The board's own word against its model's target; what the register holds as given on purpose counts as its own. */
function contradiction({ said, model, registered }: Signs, to: Release): Problem | undefined {
  if (said === undefined || model === undefined || said === registered) return undefined;
  if (findTarget(to, said)?.id === findTarget(to, model.target)?.id) return undefined;
  return {
    code: "target-contradiction",
    message: "The signs for the target contradict each other",
    detail: `The board says ${said}; a ${model.title} takes ${model.target}`,
    hint: "Look at the board: which model and revision is printed on it? “Which target does it take?” in its bay weighs all signs. Correct the register, then begin the step again",
  };
}

/** What differs from the board's own target, and why it is taken all the same. */
function insteadSays(context: StepContext, own: string, target: string, reason: string, to: Release): string {
  const here = newestBuildOf(context.catalogue, own)?.target;
  const there = findTarget(to, target);
  if (!here || !there) return `instead of ${own}, because: ${reason}`;
  const { pads, gyro } = compareTargets(here, there);
  const differs = [
    pads.length === 0
      ? ""
      : `${count(pads.length, "pad differs", "pads differ")}: ${pads.map(({ pad }) => pad).join(", ")}`,
    gyro ? `it looks for another gyro, ${gyro.there}` : "",
  ].filter(Boolean);
  return `instead of ${own}, because: ${reason}${differs.length > 0 ? ` (${differs.join("; ")})` : ""}`;
}

/**
 * The target of a part behind a line, by the block of its own image. Another one than the register holds is told; written to,
 * it is refused, and nothing overrules that: an image for another power stage burns it.
 */
async function targetOfPart(context: StepContext, part: FittedPart): Promise<StepOutcome> {
  const seen = await seePart(context);
  if ("kind" in seen) return seen;
  const { identity, firmware } = seen;
  const target = identity?.target ?? part.target;
  const says = `It holds ${seenTitle(seen)}.`;
  if (firmware && partOf(firmware) !== part.part)
    return failed({
      code: "part-kind",
      message: `Another kind of part answers where ${partTitle(part)}, should`,
      detail: `It holds ${releaseTitle(firmware)}, a firmware of the ${partOf(firmware)}`,
      hint: "Check the wires, then begin the step again. If the aircraft’s sheet names the wrong part: stop this job, correct the sheet, order the job again",
    });
  const known = { target: target ?? "", fromRelease: firmware?.id ?? "" };
  const wanted = releaseFor(context.job.goal, context.part);
  if (target === undefined)
    return failed({
      code: "target-unknown",
      message: `Nobody knows what ${partTitle(part)}, is`,
      detail: says,
      hint: "Say in the register which code its power stage has, then begin the step again",
    });
  if (wanted === undefined) return done(says, known);
  if (part.target !== undefined && part.target !== target)
    return failed({
      code: "part-target",
      message: `${target} is read where ${part.target} is fitted by the register`,
      detail: `${partTitle(part)}: ${says} An image for another power stage is never written`,
      hint: "Look at the part. If it is another one, say so in the register and order the job anew; if it is not, it was written wrongly before",
    });
  const to = firmwareWanted(context);
  const built = findTarget(to, target);
  if (!built)
    return failed({
      code: "target-missing",
      message: `${releaseTitle(to)} is not built for ${target}`,
      detail: `It is built for ${to.targets.map(({ id }) => id).join(", ")}`,
      hint: "Stop the job; order a release that is",
    });
  const { image, sha256 } = await context.store.image(to.id, built.id);
  valueOf(checkImage(image, { processor: processorOfJob(context), target: built.id }));
  return done(
    `${says} ${releaseTitle(to)} builds it, and its image is whole: ${Math.round(image.bytes.length / 1024)} KB, SHA-256 ${sha256.slice(0, 12)}….`,
    { ...known, toRelease: to.id, imageSha: sha256 },
  );
}

/** The target by the board's own word and by its model; the image for it is looked at before anything is erased. */
export const knowTarget: StepRunner = async (context) => {
  if (context.fitted) return targetOfPart(context, context.fitted);
  const { catalogue, job, state, store, part } = context;
  const to = releaseWanted(context);
  const said = resultOf(state, "know-board", part).target;
  const model = catalogue.models.get(modelOf(state, part) ?? "");
  const registered = (await store.knownModel())?.target;
  const instead = insteadOf(job.goal);
  const asModel = byModel(job.goal);
  const against = instead || asModel ? undefined : contradiction({ said, model, registered }, to);
  if (against) return failed(against);
  const other = await contradicted(context);
  if (other) return other;
  const target = findTarget(to, instead?.target ?? (asModel ? undefined : said) ?? model?.target ?? "");
  if (!target)
    return failed({
      code: "target-missing",
      message: `${releaseTitle(to)} is not built for ${said ?? "this board"}`,
      detail: `It is built for ${to.targets.map((t) => t.id).join(", ")}`,
      hint: "Stop the job; order a release for this target, or import one",
    });
  const signs = [said === undefined ? "" : "by its own word", model ? "by its model" : ""];
  const evidence = instead
    ? insteadSays(context, model?.target ?? said ?? "its own", target.id, instead.reason, to)
    : asModel
      ? `by its model; the firmware on it is that of ${said ?? "another"}, which it was not made for`
      : signs.filter(Boolean).join(" and ");
  const data = { target: target.id, toRelease: to.id };
  if (!state.steps.some(({ kind, subject }) => kind === "flash" && subject === "main"))
    return done(`${target.id}, ${evidence}. It stays on ${releaseTitle(to)}.`, data);
  const processor = processorOf(catalogue, model?.processor ?? target.processor);
  const whole = async (release: Release, id: string) => {
    const { image, sha256 } = await store.image(release.id, id);
    valueOf(checkImage(image, { processor, target: id }));
    const size = Math.round(image.bytes.length / 1024);
    const says = `${releaseTitle(release)} builds ${id === target.id ? "it" : id}, and its image is whole: ${size} KB for ${target.processor}, SHA-256 ${sha256.slice(0, 12)}….`;
    return { sha256, says };
  };
  const own = await whole(to, target.id);
  const detour = detourOf(job.goal) && detourWanted(context);
  const between = detour && (await whole(detour.release, detour.target));
  return done(`${target.id}, ${evidence}. ${[own, between].flatMap((each) => each?.says ?? []).join(" ")}`, {
    ...data,
    imageSha: own.sha256,
    ...(between ? { detourSha: between.sha256 } : {}),
  });
};
