import { findRelease, loaderIdOf, loaderOn, processorOf } from "@/core/catalog";
import { ask } from "@/core/console";
import { commandLine } from "@/core/idiom";
import { LOADER_TITLES } from "@/core/loader";
import { type StepState, resultOf, modelOf } from "@/core/job";
import { valueOf } from "@/core/problem";
import { awaitDeparture, awaitPresence } from "@/bench/link";
import {
  declareOwn,
  done,
  lostBoard,
  needBoard,
  type StepContext,
  type StepOutcome,
  type StepRunner,
} from "@/bench/steps/context";
import { requirePart } from "@/bench/steps/lines";
import { isOwnLoader, ownLoader, processorOfJob, type Loader } from "@/bench/steps/own-loader";

const LOADER_WAIT_MS = 4_000;

/** Ways into a loader that hands have, the quickest first. */
function handsForLoader({ catalogue, state, part }: StepContext): string[] {
  const model = catalogue.models.get(modelOf(state, part) ?? "");
  const inRom = model?.bootPads && loaderOn(processorOf(catalogue, model.processor), "serial") !== undefined;
  if (model?.bootButton)
    return [
      "Unplug the board",
      "Hold its boot button",
      "Plug it in, count to two, let go",
      // a loader that lives in flash can be gone; the one in ROM cannot
      ...(inRom
        ? ["If no loader shows: wire the serial adapter to its first port, and bridge its boot pads instead"]
        : []),
    ];
  if (model?.bootPads) return ["Unplug the board", "Bridge its boot pads", "Plug it in, then take the bridge away"];
  return ["Unplug the board", "Plug it in again"];
}

/** Whether the console word was tried in this step and led nowhere: it is not tried twice. */
const wordFailed = (step: StepState | undefined): boolean =>
  step?.notes.some(({ code }) => code === "word-swallowed" || code === "stayed-away") ?? false;

/** By console word where the release has one; else, or when the word is swallowed, by hand, as this board can. */
export const enterLoader: StepRunner = async (context) => {
  const { link, catalogue, state, step } = context;
  let presence = link.presence();
  const earlier = state.steps.find((s) => s.id === step);
  if (presence.kind === "console" && !wordFailed(earlier)) {
    const from = presence.port;
    const { idiom, identity } = await declareOwn(context);
    const word = commandLine(idiom, "loader");
    const release = findRelease(catalogue, identity.family, identity.release);
    if (word !== undefined && release.ok && release.value.loaderWord) {
      await context.progress({ say: "Asking the console for the loader" });
      valueOf(await ask(link.console, word, idiom, 1_500));
      await awaitDeparture(link, 1_000);
      const loader = await awaitPresence(link, ["loader"], LOADER_WAIT_MS);
      if (loader && (await isOwnLoader(context, loader)))
        return done(
          `By console word. It left ${from} and came back on ${loader.port} as a loader; the chip id is the same.`,
          { wayIn: "console word" },
        );
      presence = link.presence();
      if (presence.kind === "console")
        await context.note("The console took the word and did nothing.", "word-swallowed");
      else await context.note("After the word the board did not come back by itself.", "stayed-away");
    }
  }
  if (presence.kind === "loader") {
    const loader = await ownLoader(context, presence);
    return done(`It is in its ${LOADER_TITLES[loader.transport]}, on ${loader.port}; the chip id is the same.`, {
      wayIn: "by hand",
    });
  }
  const say =
    presence.kind === "console"
      ? "The board runs its firmware; the loader has to be reached by hand."
      : "The board is not on the cable.";
  return needBoard(say, handsForLoader(context), presence.kind === "none" ? 10 : undefined);
};

/** This job's loader: as it is, or reached once more when the board started its firmware instead; else what to do. */
export async function requireLoader(context: StepContext): Promise<Loader | StepOutcome> {
  const { fitted, state, part, link } = context;
  if (fitted) {
    const { chipId = "" } = resultOf(state, "know-loader", part);
    const word = await requirePart(context, fitted, loaderIdOf(chipId, processorOfJob(context)));
    if ("kind" in word) return word;
    const through = link.presence();
    return through.kind === "loader" ? through : lostBoard();
  }
  const presence = context.link.presence();
  if (presence.kind === "none")
    return needBoard(
      "The board is not on the cable. What was done stays; the step goes on by itself when it is back.",
      ["Plug the board in again"],
    );
  if (presence.kind === "loader") return ownLoader(context, presence);
  const entered = await enterLoader(context);
  const now = context.link.presence();
  return entered.kind === "done" && now.kind === "loader" ? ownLoader(context, now) : entered;
}
