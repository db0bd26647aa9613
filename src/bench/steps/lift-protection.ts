import { openLoader, UNREADABLE } from "@/core/loader";
import { problemOf } from "@/core/problem";
import { awaitDeparture, awaitPresence } from "@/bench/link";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, failed, waits, type StepContext, type StepOutcome, type StepRunner } from "@/bench/steps/context";

const PROBE_BYTES = 64;
/** Erasing a whole flash takes that long at most. */
const ERASE_WAIT_MS = 30_000;

/** Whether the loader gives something out now; an outcome where there is none to ask. */
async function reads(context: StepContext): Promise<boolean | StepOutcome> {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const region = loader.spaces.find(({ use }) => use === "settings");
  if (!region || !loader.can.read) return false;
  const probe = await loader.read({ ...region, lengthBytes: Math.min(PROBE_BYTES, region.lengthBytes) });
  return probe.ok || probe.problem.code !== UNREADABLE;
}

/** The first write lifts it: the board erases all that is in its flash, and starts anew. Somebody says so by name before. */
export const liftProtection: StepRunner = async (context) => {
  const { link, state, step } = context;
  const before = await reads(context);
  if (typeof before !== "boolean") return before;
  if (before) return done("It gives out what it holds: nothing is protected any more.");
  const confirmedBy = state.steps.find(({ id }) => id === step)?.confirmedBy;
  if (confirmedBy === undefined)
    return waits({
      kind: "confirm",
      say: "Lifting the protection erases the whole flash: the firmware, and the settings that it keeps.",
      asks: ["Its firmware is written anew by this job", "Its settings come from the backup that the plan rests on"],
      word: "Erase all of it",
    });
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(link, found, processorOfJob(context));
  const region = loader.spaces.find(({ use }) => use === "settings");
  await context.progress({ say: "Erasing the whole flash" });
  // it refuses the write, or goes in the middle of it: what counts is what it gives out afterwards
  if (region)
    await loader
      .write(region, new Uint8Array(Math.min(loader.blockBytes, region.lengthBytes)).fill(0xff))
      .catch((error: unknown) => {
        if (problemOf(error).code !== "link-lost") throw error;
      });
  await awaitDeparture(link, 1_000);
  await awaitPresence(link, ["loader", "console"], ERASE_WAIT_MS);
  const after = await reads(context);
  if (typeof after !== "boolean") return after;
  if (after) return done(`All of its flash is erased, on the word of ${confirmedBy}; it gives out what it holds.`);
  return failed({
    code: "loader-closed",
    message: "This loader gives nothing out, whatever is done",
    detail: "What it writes could not be proved",
    hint: "Take another way into a loader, if the board has one; then begin the step again",
  });
};
