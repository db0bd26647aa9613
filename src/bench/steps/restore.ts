import { proofSentence, proveRestore, type LineAnswer, offPlan, type Plan, type ScriptLine } from "@/core/carryover";
import { releaseById } from "@/core/catalog";
import { askCommand, keepSettings, sendScript, type Sent } from "@/core/console";
import { ProblemError, valueOf } from "@/core/problem";
import { restartBoard } from "@/bench/steps/flash";
import { storedPlan } from "@/bench/steps/plan";
import { count, declareOwn, done, failed, needBoard, type StepContext, type StepRunner } from "@/bench/steps/context";

const QUIET_US = 2_000_000;

interface Restoring {
  readonly plan: Plan;
  readonly script: readonly ScriptLine[];
}

/** The plan that was taken and the lines that were written for it then: what is sent is what is proved. */
async function restoring({ store, state }: StepContext): Promise<Restoring> {
  const plan = await storedPlan(store, state);
  const { scriptSha } = state.data;
  if (!plan || scriptSha === undefined) throw new Error("there is no plan");
  return { plan, script: (await store.getJson(scriptSha)) as ScriptLine[] };
}

const answersOf = (state: Sent): LineAnswer[] =>
  state.answers.map((answer, i) => ({
    line: i + 1,
    answer: answer?.answer ?? "none",
    ...(answer?.cause === undefined ? {} : { cause: answer.cause }),
    ...(answer?.text === undefined ? {} : { text: answer.text }),
  }));

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
  const answers = answersOf(sent);
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

export const prove: StepRunner = async (context) => {
  const { link, store, catalogue, job, state } = context;
  if (link.presence().kind !== "console")
    return needBoard("The board has gone from the cable.", ["Plug the board in again"]);
  const { idiom } = await declareOwn(context);
  await context.progress({ say: "Reading back" });
  const reply = valueOf(await askCommand(link.console, idiom, "recite"));
  const { id, recital } = await store.fileBackup(reply.raw);
  if (recital.completeness.verdict !== "complete")
    return failed({
      code: "backup-incomplete",
      message: "The read-back is not complete, so nothing is proved",
      detail: recital.completeness.findings
        .filter((f) => f.against)
        .map((f) => f.text)
        .join(". "),
      hint: "Begin the step again",
    });
  const { plan, script } = await restoring(context);
  const answers =
    state.data.answersSha === undefined ? [] : ((await store.getJson(state.data.answersSha)) as LineAnswer[]);
  const proof = proveRestore({
    release: valueOf(releaseById(catalogue, job.goal.releaseId)),
    plan,
    decisions: state.decisions,
    deciders: Object.fromEntries(Object.entries(state.decidedBy).map(([id, { account }]) => [id, account])),
    script,
    answers,
    readBack: recital.configuration,
  });
  const proofSha = await store.putJson(proof);
  return done(proofSentence(proof), {
    readBackId: id,
    proofSha,
    proved: proofSentence(proof),
    offCount: offPlan(proof),
  });
};
