import { openLoader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, failed, type StepRunner } from "@/bench/steps/context";

/** Erases the settings region through the loader, and sees that it is blank. */
export const clearSettings: StepRunner = async (context) => {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const region = loader.spaces.find(({ use }) => use === "settings");
  if (!region)
    return failed({
      code: "loader-segments",
      message: "The loader does not offer the settings region",
      hint: "Take another way into a loader, if the board has one",
    });
  await context.progress({ say: "Clearing the settings region" });
  // what is written is what an erased region holds: writing begins with the erase
  valueOf(await loader.write(region, new Uint8Array(Math.min(loader.blockBytes, region.lengthBytes)).fill(0xff)));
  const after = valueOf(await loader.read(region));
  if (after.some((byte) => byte !== 0xff))
    return failed({
      code: "flash-verify",
      message: "The settings region does not come out blank",
      hint: "Begin the step again; if it stays, the flash is worn and this board should not fly again",
    });
  return done(`${Math.round(region.lengthBytes / 1024)} KB from 0x${region.start.toString(16)} are blank.`);
};
