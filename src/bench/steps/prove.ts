import { resultOf, targetOf } from "@/core/job";
import { suspectSentence, suspectsFor } from "@/core/identify";
import { proofSentence, proveRestore, type LineAnswer, offPlan } from "@/core/carryover";
import { askCommand } from "@/core/console";
import { againstTwin, type TwinEnd } from "@/core/job/twin";
import { valueOf } from "@/core/problem";
import { declareOwn, done, failed, needBoard, type StepRunner, releaseWanted } from "@/bench/steps/context";
import { restoring } from "@/bench/steps/restoring";

export const prove: StepRunner = async (context) => {
  const { link, store, catalogue, state, part } = context;
  const { answersSha } = resultOf(state, "restore", part);
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
  const answers = answersSha === undefined ? [] : ((await store.getJson(answersSha)) as LineAnswer[]);
  const release = releaseWanted(context);
  const proof = proveRestore({
    release,
    plan,
    decisions: state.decisions,
    deciders: Object.fromEntries(Object.entries(state.decidedBy).map(([id, { account }]) => [id, account])),
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
  const suspicion = suspectSentence(suspectsFor(catalogue, release, target, rows), target);
  const { twinSha } = resultOf(state, "plan");
  const twin = twinSha === undefined ? undefined : againstTwin((await store.getJson(twinSha)) as TwinEnd, proof.values);
  return done([proofSentence(proof), twin, suspicion].filter((each) => each !== undefined).join(" "), {
    ...(suspicion === undefined ? {} : { suspicion }),
    readBackId: id,
    proofSha,
    proved: proofSentence(proof),
    offCount: offPlan(proof),
  });
};
