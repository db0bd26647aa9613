import { releaseTitle } from "@/core/catalog";
import { resultOf, targetOf } from "@/core/job";
import { compareTargets, newestBuildOf } from "@/core/identify";
import { checkImage } from "@/core/image";
import { flashMap, openLoader, partsOf, runFlash, type FlashReport } from "@/core/loader";
import { ProblemError, valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import {
  count,
  detourWanted,
  done,
  failed,
  firmwareWanted,
  releaseWanted,
  waits,
  type StepContext,
  type StepOutcome,
  type StepRunner,
} from "@/bench/steps/context";

/** Board time that is left at the pace so far; undefined until there is a pace. */
function paceLeft(report: FlashReport, startedUs: number, nowUs: number): number | undefined {
  if (report.doneBytes < 8192 || report.totalBytes === 0) return undefined;
  return ((nowUs - startedUs) / 1000) * (report.totalBytes / report.doneBytes - 1);
}

/** Which image is written, and the hash of the very one that was looked at before anything was erased. */
interface Wanted {
  readonly releaseId: string;
  readonly target: string;
  readonly sha: string | undefined;
}

export const flash: StepRunner = (context) =>
  write(context, {
    releaseId: firmwareWanted(context).id,
    target: targetOf(context.state, context.part) ?? "",
    sha: resultOf(context.state, "know-target", context.part).imageSha,
  });

/** What works otherwise meanwhile, where the firmware in between is that of a neighbour. */
function otherPads({ catalogue }: StepContext, own: string, target: string): string[] {
  const here = newestBuildOf(catalogue, own)?.target;
  const there = newestBuildOf(catalogue, target)?.target;
  if (own === target || !here || !there) return [];
  const pads = compareTargets(here, there).pads.map(({ pad }) => pad);
  return [`It is the firmware of ${target}: meanwhile ${pads.join(", ")} work otherwise`];
}

/** The firmware in between: whoever takes the detour takes it here, where the board still is as it was. */
export const flashDetour: StepRunner = async (context) => {
  const { state, step, job, part } = context;
  const { release, target } = detourWanted(context);
  const own = releaseTitle(releaseWanted(context));
  if (state.steps.find(({ id }) => id === step)?.confirmedBy === undefined)
    return waits({
      kind: "confirm",
      say: `${releaseTitle(release)} is written to the board of ${job.tag} now, and ${own} comes back when its parts are done. All that it holds is on file, and so are both images.`,
      asks: [
        `Until ${own} is back, nothing of ${job.tag} is on its board: it does not fly`,
        ...otherPads(context, targetOf(state, part) ?? "", target),
        `Whatever stops this, the way back stands: ${own} can be written again, and set up from the backup`,
      ],
      word: "Take the detour",
    });
  return write(context, { releaseId: release.id, target, sha: resultOf(state, "know-target", part).detourSha });
};

async function write(context: StepContext, { releaseId, target, sha }: Wanted): Promise<StepOutcome> {
  const { link, store } = context;
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const processor = processorOfJob(context);
  // the very image that was looked at before anything was erased, whatever came in since
  const { image: pinned } = await store.image(releaseId, target, sha);
  const image = valueOf(checkImage(pinned, { processor, target }));
  const loader = openLoader(link, found, processor);
  const parts = valueOf(partsOf(image, loader.spaces));
  const startedUs = link.clock.nowUs();
  const report = (flashReport: FlashReport) => {
    if (context.signal.aborted) throw new ProblemError({ code: "stopped", message: "The step was let go" });
    const leftMs = paceLeft(flashReport, startedUs, link.clock.nowUs());
    return context.progress({
      say: {
        compare: "Comparing",
        disarm: "Disabling the old image",
        write: "Writing",
        check: "Checking",
        done: "Written",
        failed: "Failed",
      }[flashReport.state.phase],
      doneShare: flashReport.totalBytes === 0 ? 1 : flashReport.doneBytes / flashReport.totalBytes,
      map: flashMap(flashReport.state, loader.spaces),
      ...(leftMs === undefined ? {} : { leftMs }),
    });
  };
  const result = await runFlash(loader, parts, report);
  if (!result.ok) return failed(result.problem);
  const equal = result.value.cells.filter((cell) => cell === "equal").length;
  await loader.leave();
  context.link.toldToLeave?.();
  if (equal === parts.length)
    return done(`Nothing to write: all ${count(equal, "segment")} hold the right bytes already.`);
  const kept = equal > 0 ? `, ${equal} held the right bytes already` : "";
  return done(
    `${count(parts.length, "segment")}: ${parts.length - equal} written and read back equal${kept}. The first one was written last.`,
  );
}
