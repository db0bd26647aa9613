import { resultOf } from "@/core/job";
import type { Plan, ScriptLine } from "@/core/carryover";
import { storedPlan } from "@/bench/steps/plan";
import type { StepContext } from "@/bench/steps/context";

interface Restoring {
  readonly plan: Plan;
  readonly script: readonly ScriptLine[];
}

/** The plan that was taken and the lines that were written for it then: what is sent is what is proved. */
export async function restoring({ store, state }: StepContext): Promise<Restoring> {
  const plan = await storedPlan(store, state);
  const { scriptSha } = resultOf(state, "plan");
  if (!plan || scriptSha === undefined) throw new Error("there is no plan");
  return { plan, script: (await store.getJson(scriptSha)) as ScriptLine[] };
}
