import { decodeRegion } from "@/core/image";
import { readSegment, segmentsOf } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, type StepRunner } from "@/bench/steps/context";

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
