import { ofOnePart, resultOf } from "@/core/job";
import type { Decisions, Plan, ScriptLine } from "@/core/carryover";
import { storedPlan } from "@/bench/steps/plan";
import type { StepContext } from "@/bench/steps/context";

interface Restoring {
  readonly plan: Plan;
  readonly decisions: Decisions;
  /** Who took each of them. */
  readonly deciders: Readonly<Record<string, string>>;
  readonly script: readonly ScriptLine[];
}

/** What was taken of the plan for the step's part, and the lines that were written for it then: what is sent is what is proved. */
export async function restoring({ store, state, part, job }: StepContext): Promise<Restoring> {
  const plan = await storedPlan(store, state);
  const { scriptSha, parts = [] } = resultOf(state, "plan");
  const own = parts.find((each) => each.part === part);
  if (!plan || scriptSha === undefined) throw new Error("there is no plan");
  const lines = (await store.getJson(part === "main" ? scriptSha : (own?.scriptSha ?? ""))) as ScriptLine[];
  const mine = ofOnePart(plan, state.decisions, part, job.goal);
  const accounts = Object.fromEntries(Object.entries(state.decidedBy).map(([id, { account }]) => [id, account]));
  const deciders = ofOnePart(plan, accounts, part, job.goal).decisions;
  const to = own ? (own.to as Plan["to"]) : plan.to;
  return { plan: { ...mine.plan, to }, decisions: mine.decisions, deciders, script: lines };
}
