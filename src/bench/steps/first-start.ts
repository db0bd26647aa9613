import { targetOf } from "@/core/job";
import { releaseTitle, type Release } from "@/core/catalog";
import { awaitPresence } from "@/bench/link";
import {
  declareOwn,
  detourWanted,
  done,
  failed,
  firmwareWanted,
  needBoard,
  releaseOf,
  type StepContext,
  type StepOutcome,
  type StepRunner,
  releaseWanted,
} from "@/bench/steps/context";
import { seePart, seenTitle } from "@/bench/steps/part-identity";
import { contradicted } from "@/bench/steps/holding";
import { FIRST_START_WAIT_MS } from "@/bench/steps/restart";

/** A part behind a line is woken again: what its image says is what it starts. */
async function firstStartOfPart(context: StepContext): Promise<StepOutcome> {
  await context.progress({ say: "Waking it again" });
  const seen = await seePart(context);
  if ("kind" in seen) return seen;
  const wanted = firmwareWanted(context);
  if (seen.firmware?.id === wanted.id) return done(`It holds ${seenTitle(seen)}, whole, and answers again.`);
  return failed({
    code: "release-other",
    message: `It holds ${seenTitle(seen)}, not ${releaseTitle(wanted)}`,
    hint: "Begin the step again; if it stays so, stop this job and order it again",
  });
}

export const firstStart: StepRunner = async (context) =>
  context.fitted ? firstStartOfPart(context) : startOf(context, releaseWanted(context));

/** What is written in between speaks. That it is a neighbour’s was taken with it. */
export const startDetour: StepRunner = (context) => {
  const { release, target } = detourWanted(context);
  const own = targetOf(context.state, context.part);
  return startOf(context, release, target === own ? undefined : own);
};

/** `own`: the target of the board, where what is written is not for it. */
async function startOf(context: StepContext, wanted: Release, own?: string): Promise<StepOutcome> {
  const { catalogue, job, link } = context;
  await context.progress({ say: "Waiting for the new release" });
  const seen = await awaitPresence(link, ["console"], FIRST_START_WAIT_MS);
  if (!seen) return noStart(context);
  const spoken = await declareOwn(context);
  const { identity } = spoken;
  const release = releaseOf(catalogue, identity);
  if (release.id !== wanted.id)
    return failed({
      code: "release-other",
      message: `The board runs ${releaseTitle(release)}, not ${releaseTitle(wanted)}`,
      hint: "Stop this job and order it again; its backup is kept",
    });
  await context.store.boardRuns(release.id, own ?? identity.target ?? "", identity.chipId ?? job.chipId);
  const against = own === undefined ? await contradicted(context, spoken) : undefined;
  if (against) return against;
  return done(
    `${releaseTitle(release)} of ${identity.builtOn ?? "an unknown day"} speaks on ${seen.port}. Settings: ${identity.kept ?? "not known"}.`,
  );
}

function noStart({ link }: StepContext) {
  if (link.presence().kind === "loader")
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
