import { releaseById, releaseTitle } from "@/core/catalog";
import { checkImage, decodeRegion } from "@/core/image";
import { partsOf, readSegment, runFlash, segmentsOf, type FlashReport } from "@/core/loader";
import { ProblemError, valueOf } from "@/core/problem";
import { awaitDeparture, awaitPresence } from "@/bench/link";
import { processorOfJob, requireLoader } from "@/bench/steps/hands";
import {
  count,
  declareOwn,
  done,
  failed,
  needBoard,
  releaseOf,
  type StepContext,
  type StepRunner,
} from "@/bench/steps/context";

const FIRST_START_WAIT_MS = 8_000;

export const rescue: StepRunner = async (context) => {
  const loader = await requireLoader(context);
  if (!("serial" in loader)) return loader;
  const processor = processorOfJob(context);
  const region = segmentsOf(loader, processor).find((segment) => segment.settings);
  if (!region || !loader.canUpload)
    return done("This loader cannot read the settings region; the read-out by console stands alone.");
  await context.progress({ say: "Reading the settings region" });
  const bytes = valueOf(await readSegment(context.link.usb, region, loader.transferSizeBytes));
  const { sha256 } = await context.store.fileRescue(bytes);
  const content = decodeRegion(bytes);
  const state =
    content.state === "kept"
      ? "it holds kept settings"
      : content.state === "blank"
        ? "it is blank"
        : `it is damaged: ${content.reason}`;
  return done(
    `${Math.round(bytes.length / 1024)} KB from 0x${region.start.toString(16)}, stored as they are; ${state}.`,
    { rescueSha: sha256 },
  );
};

/** Board time that is left at the pace so far; undefined until there is a pace. */
function paceLeft(report: FlashReport, startedUs: number, nowUs: number): number | undefined {
  if (report.doneBytes < 8192 || report.totalBytes === 0) return undefined;
  return ((nowUs - startedUs) / 1000) * (report.totalBytes / report.doneBytes - 1);
}

export const flash: StepRunner = async (context) => {
  const { job, state, link, store } = context;
  const loader = await requireLoader(context);
  if (!("serial" in loader)) return loader;
  const target = state.data.target ?? "";
  const processor = processorOfJob(context);
  // the very image that was looked at before anything was erased, whatever came in since
  const { image: pinned } = await store.image(job.goal.releaseId, target, state.data.imageSha);
  const image = valueOf(checkImage(pinned, { processor, target }));
  const parts = valueOf(partsOf(image, segmentsOf(loader, processor)));
  const startedUs = link.clock.nowUs();
  const report = (flashReport: FlashReport) => {
    if (context.signal.aborted) throw new ProblemError({ code: "stopped", message: "The step was let go" });
    const leftMs = paceLeft(flashReport, startedUs, link.clock.nowUs());
    return context.progress({
      say: {
        compare: "Comparing",
        disarm: "Disarming the old image",
        write: "Writing",
        check: "Checking",
        done: "Written",
        failed: "Failed",
      }[flashReport.state.phase],
      doneShare: flashReport.totalBytes === 0 ? 1 : flashReport.doneBytes / flashReport.totalBytes,
      cells: flashReport.state.cells,
      ...(leftMs === undefined ? {} : { leftMs }),
    });
  };
  const result = await runFlash(link.usb, parts, loader.transferSizeBytes, report);
  if (!result.ok) return failed(result.problem);
  const equal = result.value.cells.filter((cell) => cell === "equal").length;
  await link.usb.reset();
  if (equal === parts.length)
    return done(`Nothing to write: all ${count(equal, "segment")} hold the right bytes already.`);
  const kept = equal > 0 ? `, ${equal} held the right bytes already` : "";
  return done(
    `${count(parts.length, "segment")}: ${parts.length - equal} written and read back equal${kept}. The first one was written last.`,
  );
};

export const firstStart: StepRunner = async (context) => {
  const { catalogue, job, link } = context;
  await context.progress({ say: "Waiting for the new release" });
  const seen = await awaitPresence(link, ["console"], FIRST_START_WAIT_MS);
  if (!seen) return noStart(context);
  const { identity } = await declareOwn(context);
  const release = releaseOf(catalogue, identity);
  if (release.id !== job.goal.releaseId)
    return failed({
      code: "release-other",
      message: `The board runs ${releaseTitle(release)}, not ${releaseTitle(valueOf(releaseById(catalogue, job.goal.releaseId)))}`,
      hint: "Begin the job again; its backup is kept",
    });
  await context.store.boardRuns(release.id, identity.target ?? "");
  return done(
    `${releaseTitle(release)} of ${identity.builtOn ?? "an unknown day"} speaks on ${seen.port}. Settings: ${identity.kept ?? "not said"}.`,
  );
};

function noStart({ link }: StepContext) {
  if (link.presence().kind === "usb-loader")
    return needBoard(
      "The board stayed in its loader.",
      ["Unplug it", "Plug it in again without touching its boot button"],
      10,
    );
  return needBoard(
    "The board did not come back after the restart.",
    ["Unplug it and count to ten", "Plug it in again; the job continues by itself"],
    10,
  );
}

/** Restarts the board by console and waits until it speaks again; undefined when it does not. */
export async function restartBoard({ link }: StepContext, restart: () => Promise<void>): Promise<boolean> {
  await restart();
  await awaitDeparture(link, 1_000);
  return (await awaitPresence(link, ["console"], FIRST_START_WAIT_MS)) !== undefined;
}
