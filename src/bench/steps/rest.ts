import { lets } from "@/core/catalog";
import { REST_S } from "@/core/job";
import { versionShown } from "@/core/loader";
import { requireLoader } from "@/bench/steps/enter-loader";
import { loaderVersion, wantedLoader } from "@/bench/steps/see-loader";
import { done, needBoard, type StepContext, type StepOutcome, type StepRunner } from "@/bench/steps/context";

const TOO_SHORT = "That was too short: the old loader is still in memory.";
const LOOK_US = 200_000;
const ASKS = [
  "Unplug the board; take the battery out, and the serial adapter off",
  `Leave it for ${REST_S} seconds, then plug it in again`,
] as const;

const goneAsk = (say: string) => needBoard(say, ASKS);

/** Waits out the seconds without power; an outcome when they were cut short. */
async function restOut(context: StepContext): Promise<StepOutcome | undefined> {
  const { link } = context;
  const since = link.clock.nowUs();
  const passedS = () => (link.clock.nowUs() - since) / 1_000_000;
  while (passedS() < REST_S) {
    if (link.presence().kind !== "none") {
      await context.note(`It was back after ${passedS().toFixed(1)} s.`, "too-early");
      return goneAsk(TOO_SHORT);
    }
    if (context.signal.aborted) return goneAsk("The board has to be without power.");
    await context.progress({
      say: "Without power",
      doneShare: passedS() / REST_S,
      leftMs: 1000 * (REST_S - passedS()),
    });
    await link.clock.waitUntil(link.clock.nowUs() + LOOK_US);
  }
  await context.note(`It was away for ${REST_S} s.`, "rested");
  return undefined;
}

/**
 * The board is without power until nothing is left in memory. What counts is the loader that answers then: a battery or
 * an adapter may have fed the board, and a rest that nobody watched is as good as another.
 */
export const rest: StepRunner = async (context) => {
  const { link, state, step } = context;
  const notes = state.steps.find(({ id }) => id === step)?.notes ?? [];
  let last = notes.findLast(({ code }) => code === "rested" || code === "too-early" || code === "fed")?.code;
  if (link.presence().kind === "none" && last !== "rested") {
    const cut = await restOut(context);
    if (cut) return cut;
    last = "rested";
  }
  if (link.presence().kind === "none") return needBoard("The seconds are over.", ["Plug the board in again"]);
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const { requirement } = wantedLoader(context);
  // a loader that does not say which it is only shows what lies in flash: then it is the rest that counts
  const tells = versionShown(found) !== undefined;
  const version = await loaderVersion(context, found);
  const serves = typeof version === "number" && (requirement === undefined || lets(requirement, version));
  if (serves && (tells || last === "rested"))
    return done(`It answers as ${requirement?.family ?? "its own loader, version"} ${version}.`);
  if (last !== "rested")
    return goneAsk(
      last === "too-early" ? TOO_SHORT : "The old loader lives on in memory until the board was without power.",
    );
  await context.note(
    version === "gone"
      ? "No loader is in its place."
      : `The loader that answers is still version ${version ?? "unknown"}.`,
    "fed",
  );
  return goneAsk("The old loader still answers: something fed the board all the while.");
};
