import { releaseById } from "@/core/catalog";
import { askCommand, keepSettings, sendScript } from "@/core/console";
import { lineAnswers } from "@/core/job/answers";
import { ProblemError, valueOf } from "@/core/problem";
import { restartBoard } from "@/bench/steps/restart";
import { count, declareOwn, done, failed, needBoard, type StepRunner } from "@/bench/steps/context";
import { restoring } from "@/bench/steps/restoring";

const QUIET_US = 2_000_000;

export const restore: StepRunner = async (context) => {
  const { link, store, catalogue, job } = context;
  if (link.presence().kind !== "console")
    return needBoard(
      "The board has gone from the cable. The restore begins again from its first line when it is back.",
      ["Plug the board in again"],
    );
  const { idiom } = await declareOwn(context);
  const { script } = await restoring(context);
  const release = valueOf(releaseById(catalogue, job.goal.releaseId));
  const startedUs = link.clock.nowUs();
  const sent = await sendScript(
    link.console,
    script,
    idiom,
    { windowBytes: release.console.inputBufferBytes, quietUs: QUIET_US },
    (answered) => {
      if (context.signal.aborted) throw new ProblemError({ code: "stopped", message: "The step was let go" });
      const share = answered / script.length;
      const leftMs = answered > 20 ? ((link.clock.nowUs() - startedUs) / 1000) * (1 / share - 1) : undefined;
      return context.progress({
        say: `Line ${answered} of ${script.length}`,
        doneShare: share,
        ...(leftMs === undefined ? {} : { leftMs }),
      });
    },
  );
  if (sent.problem) return failed(sent.problem);
  const answers = lineAnswers(sent);
  await context.progress({ say: "Storing" });
  const { twice } = valueOf(await keepSettings(link.console, idiom));
  const back = await restartBoard(context, async () => {
    valueOf(await askCommand(link.console, idiom, "restart"));
  });
  const answersSha = await store.putJson(answers);
  if (!back)
    return needBoard(
      "The settings are stored. The board did not come back after the restart.",
      ["Unplug it and count to ten", "Plug it in again; the job continues by itself"],
      10,
    );
  const refused = answers.filter((answer) => answer.answer === "refused").length;
  const adjusted = answers.filter((answer) => answer.answer === "adjusted").length;
  const told = `${count(script.length, "line")} sent, all answered; ${refused === 0 ? "none refused" : `${refused} refused`}${adjusted > 0 ? `, ${adjusted} adjusted` : ""}.`;
  return done(`${told} Stored${twice ? ", though lines were refused" : ""}, restarted.`, { answersSha });
};
