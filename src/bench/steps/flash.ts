import { resultOf, targetOf } from "@/core/job";
import { checkImage } from "@/core/image";
import { flashMap, openLoader, partsOf, runFlash, type FlashReport } from "@/core/loader";
import { ProblemError, valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { count, done, failed, firmwareWanted, type StepRunner } from "@/bench/steps/context";

/** Board time that is left at the pace so far; undefined until there is a pace. */
function paceLeft(report: FlashReport, startedUs: number, nowUs: number): number | undefined {
  if (report.doneBytes < 8192 || report.totalBytes === 0) return undefined;
  return ((nowUs - startedUs) / 1000) * (report.totalBytes / report.doneBytes - 1);
}

export const flash: StepRunner = async (context) => {
  const { state, link, store, part } = context;
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const target = targetOf(state, part) ?? "";
  const processor = processorOfJob(context);
  // the very image that was looked at before anything was erased, whatever came in since
  const { image: pinned } = await store.image(
    firmwareWanted(context).id,
    target,
    resultOf(state, "know-target", part).imageSha,
  );
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
};
