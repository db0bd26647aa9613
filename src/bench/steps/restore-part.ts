import { regionOfPlan } from "@/core/job/twin";
import { openLoader } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { restoring } from "@/bench/steps/restoring";
import { count, done, failed, firmwareWanted, type StepContext, type StepOutcome } from "@/bench/steps/context";

/** What was planned, written to the settings region of a part as its release keeps it; then it starts on that. */
export async function restorePart(context: StepContext): Promise<StepOutcome> {
  const { catalogue, store } = context;
  const { plan, decisions } = await restoring(context);
  const firmware = firmwareWanted(context);
  const region = valueOf(regionOfPlan({ plan, decisions }, firmware, catalogue));
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const space = loader.spaces.find(({ use }) => use === "settings");
  if (!space)
    return failed({
      code: "region-not-offered",
      message: "Its loader does not offer the settings region",
      hint: "Stop the job: its firmware is written, its settings stand at their defaults",
    });
  await context.progress({ say: "Writing the settings region" });
  const written = await loader.write(space, region);
  if (!written.ok) return failed(written.problem);
  const back = await loader.compare(space, region);
  if (!back.ok) return failed(back.problem);
  if (!back.value.equal)
    return failed({
      code: "region-differs",
      message: "The settings region reads back otherwise than it was written",
      hint: "Begin the step again; if it stays so, the memory of this part is worn",
    });
  await loader.leave();
  return done(
    `${count(firmware.settings.length, "value")} in ${region.length} bytes, read back equal. It starts on them.`,
    {
      answersSha: await store.putJson([]),
    },
  );
}
