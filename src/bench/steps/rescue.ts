import { layoutsOf } from "@/core/catalog";
import { decodeRegion } from "@/core/image";
import { openLoader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, type StepRunner } from "@/bench/steps/context";

export const rescue: StepRunner = async (context) => {
  const found = await requireLoader(context);
  if (!("way" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const region = loader.spaces.find(({ use }) => use === "settings");
  if (!region || !loader.can.read)
    return done("This loader cannot read the settings region; what was backed up before stands alone.", {
      regionState: "unread",
    });
  await context.progress({ say: "Reading the settings region" });
  const bytes = valueOf(await loader.read(region));
  const { sha256 } = await context.store.fileRescue(bytes);
  const content = decodeRegion(bytes, layoutsOf(context.catalogue));
  const state =
    content.state === "kept"
      ? "it holds kept settings"
      : content.state === "blank"
        ? "it is blank"
        : `it is damaged: ${content.reason}`;
  return done(
    `${Math.round(bytes.length / 1024)} KB from 0x${region.start.toString(16)}, stored as they are; ${state}.`,
    { rescueSha: sha256, regionState: content.state },
  );
};
