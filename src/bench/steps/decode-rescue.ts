import { resultOf, modelOf, targetOf } from "@/core/job";
import { readRescued } from "@/core/diagnose";
import { releaseTitle } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { textOfPart } from "@/bench/steps/part-text";
import {
  count,
  done,
  failed,
  filedAs,
  type StepContext,
  type StepOutcome,
  type StepRunner,
} from "@/bench/steps/context";
import type { FittedPart } from "@/core/part";

/**
 * The region of a part that has no console, as its read-out. One that cannot be read as settings stays on file as it is, and
 * says why.
 */
async function decodePart(context: StepContext, part: FittedPart): Promise<StepOutcome> {
  const { state, store } = context;
  const { rescueSha = "" } = resultOf(state, "rescue", context.part);
  const text = textOfPart(context, part, await store.rescued(rescueSha));
  if (!text.ok)
    return done(`${text.problem.message}: ${text.problem.detail ?? ""}. Its region is on file as it was read.`);
  const { id, recital } = await store.fileRescued(new TextEncoder().encode(text.value.text), filedAs(context));
  const { unread } = text.value;
  const lost =
    unread.length === 0
      ? ""
      : ` ${count(unread.length, "record")} could not be read: ${unread.slice(0, 3).join("; ")}.`;
  return done(
    `${count(recital.configuration.settings.length, "value")} of ${releaseTitle(recital.release)}, held against their check; judged ${recital.completeness.verdict}.${lost}`,
    { backupId: id },
  );
}

/** The rescued region as a backup that names its source; what is damaged or of no known release is refused by name. */
export const decodeRescue: StepRunner = async (context) => {
  const { catalogue, job, state, store, part, fitted } = context;
  const { rescueSha } = resultOf(state, "rescue", part);
  const [target = "", model] = [targetOf(state, part), modelOf(state, part)];
  if (rescueSha === undefined)
    return failed({
      code: "rescue-none",
      message: "There is nothing to read the settings from",
      detail: "This loader does not give the settings region out, and no backup is on file",
      hint: "Stop the job, and import a backup of this aircraft under its history",
    });
  if (fitted) return decodePart(context, fitted);
  const bytes = await store.rescued(rescueSha);
  const identity = {
    target,
    chipId: job.chipId,
    ...(model === undefined ? {} : { board: catalogue.models.get(model)?.title ?? model }),
  };
  const rescued = valueOf(readRescued(bytes, catalogue, identity));
  const { id, recital } = await store.fileRescued(new TextEncoder().encode(rescued.text));
  const lost =
    rescued.unread.length === 0
      ? ""
      : ` ${count(rescued.unread.length, "record", "records")} could not be read: ${rescued.unread.slice(0, 3).join("; ")}.`;
  return done(
    `${count(rescued.values, "value")} and ${count(rescued.rows, "row")} of ${releaseTitle(rescued.release)}, held against their check; filed as a backup rescued through the loader, judged ${recital.completeness.verdict}.${lost}`,
    { backupId: id },
  );
};
