import { passesIn, type LineAnswer, type ScriptPass } from "@/core/carryover";
import { askCommand, keepSettings, sendScript, type Sent } from "@/core/console";
import type { Idiom } from "@/core/idiom";
import { lineAnswers } from "@/core/job/answers";
import { ProblemError, valueOf } from "@/core/problem";
import { restartBoard } from "@/bench/steps/restart";
import {
  count,
  declareOwn,
  done,
  failed,
  needBoard,
  type StepContext,
  type StepOutcome,
  type StepRunner,
  releaseWanted,
} from "@/bench/steps/context";
import { restorePart } from "@/bench/steps/restore-part";
import { restoring } from "@/bench/steps/restoring";

const QUIET_US = 2_000_000;

const AWAY = ["Unplug it and count to ten", "Plug it in again; the job continues by itself"];

/** Sends the lines of one pass; they are not stored yet. */
async function sendPass(context: StepContext, { from, lines }: ScriptPass, idiom: Idiom, all: number): Promise<Sent> {
  const { link } = context;
  const release = releaseWanted(context);
  const startedUs = link.clock.nowUs();
  const options = { windowBytes: release.console.inputBufferBytes, quietUs: QUIET_US };
  return sendScript(link.console, lines, idiom, options, (answered) => {
    if (context.signal.aborted) throw new ProblemError({ code: "stopped", message: "The step was let go" });
    const left = (all - from - answered) / answered;
    const leftMs = answered > 20 ? ((link.clock.nowUs() - startedUs) / 1000) * left : undefined;
    return context.progress({
      say: `Line ${from + answered} of ${all}`,
      doneShare: (from + answered) / all,
      ...(leftMs === undefined ? {} : { leftMs }),
    });
  });
}

/** Starts the board on what it has stored; what it is to do instead where it stays away. */
async function startOn(
  context: StepContext,
  idiom: Idiom,
  stored: { readonly lines: number; readonly answers: string },
): Promise<StepOutcome | undefined> {
  const back = await restartBoard(context, async () => {
    valueOf(await askCommand(context.link.console, idiom, "restart"));
  });
  // where it stays away, plugging it in again is its start
  await context.stored({ ...stored, started: true });
  if (!back) return needBoard("The settings are stored. The board did not come back after the restart.", AWAY, 10);
  await declareOwn(context);
  return undefined;
}

/** Each pass is sent, stored and started with, before the next one; what is stored is not sent again. */
export const restore: StepRunner = async (context) => {
  if (context.fitted) return restorePart(context);
  const { link, store, state, step } = context;
  if (link.presence().kind !== "console")
    return needBoard(
      "The board has gone from the cable. What is stored on it stays; the restore goes on behind that when it is back.",
      ["Plug the board in again"],
    );
  const { idiom } = await declareOwn(context);
  const { script } = await restoring(context);
  const before = state.steps.find(({ id }) => id === step)?.stored;
  const answers = before ? [...((await store.getJson(before.answers)) as LineAnswer[])] : [];
  let answersSha = before?.answers ?? (await store.putJson(answers));
  // whoever died between storing and starting: what comes next may rest on the start
  const away = before?.started === false ? await startOn(context, idiom, before) : undefined;
  if (away) return away;
  let twice = false;
  for (const pass of passesIn(script).filter(({ from }) => from >= (before?.lines ?? 0))) {
    const sent = await sendPass(context, pass, idiom, script.length);
    if (sent.problem) return failed(sent.problem);
    answers.push(...lineAnswers(sent, pass.from));
    await context.progress({ say: "Storing" });
    twice = valueOf(await keepSettings(link.console, idiom)).twice || twice;
    answersSha = await store.putJson(answers);
    const stored = { lines: pass.from + pass.lines.length, answers: answersSha };
    await context.stored(stored);
    const gone = await startOn(context, idiom, stored);
    if (gone) return gone;
  }
  const refused = answers.filter((answer) => answer.answer === "refused").length;
  const adjusted = answers.filter((answer) => answer.answer === "adjusted").length;
  const sentText = `${count(script.length, "line")} sent, all answered; ${refused === 0 ? "none refused" : `${refused} refused`}${adjusted > 0 ? `, ${adjusted} adjusted` : ""}.`;
  const starts = passesIn(script).length;
  return done(
    `${sentText} Stored${twice ? ", though lines were refused" : ""}, ${starts === 1 ? "restarted" : `restarted ${starts} times, because what is taken depends on it`}.`,
    { answersSha },
  );
};
