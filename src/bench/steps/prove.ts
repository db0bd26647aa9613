import { resultOf, targetOf } from "@/core/job";
import { suspectSentence, suspectsFor } from "@/core/identify";
import { proofSentence, proveRestore, type LineAnswer, offPlan } from "@/core/carryover";
import { askCommand } from "@/core/console";
import { againstTwin, type TwinEnd } from "@/core/job/twin";
import { valueOf } from "@/core/problem";
import { openLoader } from "@/core/loader";
import type { FittedPart } from "@/core/part";
import { requireLoader } from "@/bench/steps/enter-loader";
import { processorOfJob } from "@/bench/steps/own-loader";
import { textOfPart } from "@/bench/steps/part-text";
import {
  declareOwn,
  done,
  failed,
  filedAs,
  firmwareWanted,
  needBoard,
  type StepContext,
  type StepOutcome,
  type StepRunner,
} from "@/bench/steps/context";
import { restoring } from "@/bench/steps/restoring";

type Back = Awaited<ReturnType<StepContext["store"]["fileBackup"]>>;

async function readBoardBack(context: StepContext): Promise<Back | StepOutcome> {
  if (context.link.presence().kind !== "console")
    return needBoard("The board has gone from the cable.", ["Plug the board in again"]);
  const { idiom } = await declareOwn(context);
  const reply = valueOf(await askCommand(context.link.console, idiom, "recite"));
  return context.store.fileBackup(reply.raw);
}

async function readPartBack(context: StepContext, part: FittedPart): Promise<Back | StepOutcome> {
  const found = await requireLoader(context);
  if (!("transport" in found)) return found;
  const loader = openLoader(context.link, found, processorOfJob(context));
  const space = loader.spaces.find(({ use }) => use === "settings");
  if (!space) throw new Error("its loader offers no settings region");
  const { text } = valueOf(textOfPart(context, part, valueOf(await loader.read(space))));
  return context.store.fileRescued(new TextEncoder().encode(text), filedAs(context));
}

export const prove: StepRunner = async (context) => {
  const { store, catalogue, state, part } = context;
  const { answersSha } = resultOf(state, "restore", part);
  await context.progress({ say: "Reading back" });
  const back = context.fitted ? await readPartBack(context, context.fitted) : await readBoardBack(context);
  if ("kind" in back) return back;
  const { id, recital } = back;
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
  const { plan, decisions, deciders, script } = await restoring(context);
  const answers = answersSha === undefined ? [] : ((await store.getJson(answersSha)) as LineAnswer[]);
  const release = firmwareWanted(context);
  const proof = proveRestore({
    release,
    plan,
    decisions,
    deciders,
    script,
    answers,
    readBack: recital.configuration,
  });
  const proofSha = await store.putJson(proof);
  const target = targetOf(state, part) ?? "";
  const refused = new Set(proof.values.flatMap(({ id, result }) => (result === "refused" ? [id] : [])));
  const rows = plan.items.flatMap((item) =>
    item.kind === "row" && item.to && refused.has(item.id) ? [{ table: item.table, key: item.to.key }] : [],
  );
  const suspicion = suspectSentence(suspectsFor(catalogue, catalogue.releases.get(release.id), target, rows), target);
  // a twin plays the board alone, and nothing behind it
  const { twinSha } = resultOf(state, "plan");
  const twin =
    twinSha === undefined || context.fitted
      ? undefined
      : againstTwin((await store.getJson(twinSha)) as TwinEnd, proof.values);
  return done([proofSentence(proof), twin, suspicion].filter((each) => each !== undefined).join(" "), {
    ...(suspicion === undefined ? {} : { suspicion }),
    readBackId: id,
    proofSha,
    proved: proofSentence(proof),
    offCount: offPlan(proof),
  });
};
