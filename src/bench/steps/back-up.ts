import { askCommand } from "@/core/console";
import { valueOf } from "@/core/problem";
import { count, declareOwn, done, failed, needBoard, type StepRunner } from "@/bench/steps/context";

export const backUp: StepRunner = async (context) => {
  if (context.link.presence().kind !== "console")
    return needBoard("The board does not answer any more.", ["Unplug it and plug it in again"]);
  const { idiom } = await declareOwn(context);
  await context.progress({ say: "Reading out every profile" });
  const reply = valueOf(await askCommand(context.link.console, idiom, "recite"));
  const { id, recital } = await context.store.fileBackup(reply.raw);
  const { completeness, configuration, release } = recital;
  if (completeness.verdict !== "complete")
    return failed({
      code: "backup-incomplete",
      message: "The read-out is not complete, so nothing may be erased",
      detail: completeness.findings
        .filter((f) => f.against)
        .map((f) => f.text)
        .join(". "),
      hint: "Begin the step again; what was read is kept beside it",
    });
  const profiles = release.profiles.reduce((sum, profile) => sum + profile.count, 0);
  const firstFinding = completeness.findings.find((f) => !f.against)?.text ?? "";
  return done(
    `${count(release.settings.length, "setting")}, ${count(release.tables.length, "table")} with ${count(configuration.rows.length, "row")}, ${count(profiles, "profile")}. Complete: ${firstFinding.charAt(0).toLowerCase()}${firstFinding.slice(1)}.`,
    { backupId: id },
  );
};
