import { firmwareById, layoutsOf, releaseTitle } from "@/core/catalog";
import { decodeRegion } from "@/core/image";
import { openLoader, UNREADABLE } from "@/core/loader";
import { sourceOf, resultOf } from "@/core/job";
import { refuse, valueOf, type Result } from "@/core/problem";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { done, filedAs, waits, type StepContext, type StepOutcome, type StepRunner } from "@/bench/steps/context";

const CLOSED: Result<Uint8Array> = refuse({
  code: UNREADABLE,
  message: "The loader gives nothing out",
  detail: "it says that it gives nothing out",
});

/** Nothing can be read: what only the board holds is given up by somebody's word, unless this job has just read it by the console. */
function withoutRescue({ state, step, job, part }: StepContext, why: string): StepOutcome {
  const said = `Nothing can be read through this loader${why === "" ? "" : ` (${why})`}: it is protected against reading, or never could.`;
  if (resultOf(state, "back-up", part).backupId !== undefined)
    return done(`${said} What was read out by the console stands alone.`, { regionState: "unread" });
  // without any other source the settings are the next step's matter, and nothing is given up yet
  if (job.goal.kind === "revive" && sourceOf(job.goal) === undefined) return done(said, { regionState: "unread" });
  const confirmedBy = state.steps.find(({ id }) => id === step)?.confirmedBy;
  if (confirmedBy === undefined)
    return waits({
      kind: "confirm",
      say: `${said} What its settings region holds is lost when it is written to.`,
      asks: [
        "What was set on it since its last backup will not come back",
        "Stop here, if that matters more than the board",
      ],
      word: "Lose its settings, go on",
    });
  return done(`${said} What only it holds is given up by ${confirmedBy}.`, { regionState: "unread" });
}

export const rescue: StepRunner = async (context) => {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const region = loader.spaces.find(({ use }) => use === "settings");
  if (!region)
    return done("This loader does not offer the settings region; what was backed up before stands alone.", {
      regionState: "not-offered",
    });
  await context.progress({ say: "Reading the settings region" });
  const read = loader.can.read ? await loader.read(region) : CLOSED;
  if (!read.ok && read.problem.code === UNREADABLE) return withoutRescue(context, read.problem.detail ?? "");
  const bytes = valueOf(read);
  const { sha256 } = await context.store.fileRescue(bytes, filedAs(context));
  const content = decodeRegion(bytes, layoutsOf(context.catalogue));
  // a part without a console runs on its defaults then
  const runs = firmwareById(context.catalogue, resultOf(context.state, "know-target", context.part).fromRelease ?? "");
  if (content.state === "blank" && runs)
    return done(`Nothing was ever kept in it: ${releaseTitle(runs)} runs on its defaults.`, {
      rescueSha: sha256,
      regionState: "defaults",
    });
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
