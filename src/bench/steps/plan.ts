import { countOutcomes, openDecisions, scriptOf, settlePlan, writerFor, type Plan } from "@/core/carryover";
import { releaseById } from "@/core/catalog";
import { idiomOf, lackOf, type Idiom } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { planOfGoal, scopeOf, sourceIds, type JobState, type Sources } from "@/core/job";
import { count, done, failed, waits, type StepContext, type StepRunner } from "@/bench/steps/context";
import type { JobStore } from "@/bench/store";

export async function storedPlan(store: JobStore, state: JobState): Promise<Plan | undefined> {
  return state.data.planSha === undefined ? undefined : ((await store.getJson(state.data.planSha)) as Plan);
}

/** The plan of this job: worked out from its source. The same inputs give the same plan, so it may be made again. */
export async function computePlan({
  store,
  state,
  catalogue,
  job,
}: Pick<StepContext, "store" | "state" | "catalogue" | "job">): Promise<Plan> {
  const { target } = state.data;
  const ids = sourceIds(job.goal, state.data.backupId);
  if (target === undefined) throw new Error("the plan needs a target");
  if (!ids) throw new Error("the plan needs a backup");
  const { chosen, board } = ids;
  const sources: Sources = {
    ...(chosen === undefined ? {} : { chosen: await store.recitalOf(chosen) }),
    ...(board === undefined ? {} : { board: await store.recitalOf(board) }),
  };
  const release = valueOf(releaseById(catalogue, job.goal.releaseId));
  return valueOf(planOfGoal(job.goal, sources, release, target, catalogue));
}

/** What a console must be able to be told after the old firmware is gone. */
const WORDS = ["recite", "declare", "sense", "forget", "keep", "restart"] as const;

export function planSentence(plan: Plan): string {
  const counts = countOutcomes(plan);
  const parts = [
    `${counts["as-it-was"]} as they were`,
    `${counts.renamed + counts.converted} renamed or converted`,
    `${counts.limited} limited`,
    `${counts["new-default"]} new`,
    `${counts.retired} retired`,
  ];
  if (counts["cannot-be-here"] > 0) parts.push(`${counts["cannot-be-here"]} cannot be here`);
  parts.push(`${counts["your-call"]} your call`);
  return parts.join(", ");
}

/** The starter set that the console is told of; a console without a word for it gets its values alone. */
const starterWord = (goal: StepContext["job"]["goal"], idiom: Idiom) =>
  idiom.starter === undefined ? undefined : scopeOf(goal).starter;

export const planStep: StepRunner = async (context) => {
  const plan = await computePlan(context);
  const open = openDecisions(plan, context.state.decisions);
  if (open > 0)
    return waits({
      kind: "decisions",
      open,
      say: `${count(open, "decision waits", "decisions wait")} for you before anything changes.`,
    });
  // nothing is erased before it is certain that what was decided can be written down
  const release = valueOf(releaseById(context.catalogue, context.job.goal.releaseId));
  const settled = settlePlan(plan, context.state.decisions, release);
  if (!settled.ok) return failed(settled.problem);
  const document = context.catalogue.idioms.get(release.idiom);
  const idiom = document && idiomOf(document);
  const lack = idiom && lackOf(idiom, WORDS);
  if (!idiom)
    return failed({
      code: "idiom-none",
      message: `The catalogue has no idiom “${release.idiom}”`,
      hint: "Import it under Firmware",
    });
  if (lack) return failed(lack);
  const script = scriptOf(settled.value, release, writerFor(release, idiom, starterWord(context.job.goal, idiom)));
  const [planSha, scriptSha] = [await context.store.putJson(plan), await context.store.putJson(script)];
  const deciders = [...new Set(Object.values(context.state.decidedBy).map((d) => d.account))];
  return done(`${planSentence(plan)}.${deciders.length > 0 ? ` Decided by ${deciders.join(", ")}.` : ""}`, {
    planSha,
    scriptSha,
  });
};
