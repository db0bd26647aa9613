import { loaderOfPart, resultOf } from "@/core/job";
import { firmwareById, releaseTitle } from "@/core/catalog";
import { flashMap, openLoader, partsOf, runFlash } from "@/core/loader";
import { ProblemError, valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { count, done, failed, needBoard, type StepRunner } from "@/bench/steps/context";

const BY_ROM = "If no loader shows: wire the serial adapter to its first port, bridge its boot pads, and plug it in";

/** Writes another loader into its own place, in an order that can be cut anywhere: by whichever loader the board shows. */
export const replaceLoader: StepRunner = async (context) => {
  const { state, link, store, catalogue, part } = context;
  const { loaderRelease = "", loaderSha } = resultOf(state, "see-loader", loaderOfPart(part));
  const next = firmwareById(catalogue, loaderRelease);
  if (!next) throw new Error("which loader is to come was not settled");
  // in the middle of this the board may have nothing left that starts
  if (link.presence().kind === "none")
    return needBoard("The board is not on the cable. What was written stays; the step goes on by itself.", [
      "Plug the board in again",
      BY_ROM,
    ]);
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const processor = processorOfJob(context);
  const loader = openLoader(link, found, processor);
  if (!loader.spaces.some(({ use }) => use === "loader"))
    return needBoard("This loader cannot replace itself: the one in ROM can.", [
      "Unplug the board",
      "Wire the serial adapter to its first port",
      "Bridge its boot pads, plug it in, then take the bridge away",
    ]);
  const target = next.targets.find((each) => each.processor === processor.id)?.id ?? "";
  const { image } = await store.image(next.id, target, loaderSha);
  const parts = valueOf(partsOf(image, loader.spaces));
  const result = await runFlash(loader, parts, (report) => {
    if (context.signal.aborted) throw new ProblemError({ code: "stopped", message: "The step was let go" });
    return context.progress({
      say: "Writing the loader",
      doneShare: report.totalBytes === 0 ? 1 : report.doneBytes / report.totalBytes,
      map: flashMap(report.state, loader.spaces),
    });
  });
  if (!result.ok) return failed(result.problem);
  const equal = result.value.cells.filter((cell) => cell === "equal").length;
  const written = parts.length - equal;
  return done(
    written === 0
      ? `${releaseTitle(next)} is in its place already.`
      : `${releaseTitle(next)}: ${count(written, "sector")} written and read back equal. The first one was written last.`,
  );
};
