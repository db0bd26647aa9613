import { ATTITUDE_ASKS, concludeAttitude, isLevel, type Conclusion } from "@/core/checks";
import { indexOf, releaseById } from "@/core/catalog";
import { fitTo } from "@/core/carryover";
import { showValue } from "@/core/config";
import type { StepContext } from "@/bench/steps/context";
import { storedPlan } from "@/bench/steps/plan";
import { runAsks } from "@/bench/steps/run-asks";

/** The setting that says how the board is turned in the airframe, put right by so many quarter turns. */
async function mountedRight({ catalogue, job, store, state }: StepContext, { quarters }: Conclusion) {
  const release = releaseById(catalogue, job.goal.runs.main);
  const concept = release.ok ? release.value.pins?.mounted : undefined;
  const plan = await storedPlan(store, state);
  if (!release.ok || concept === undefined || quarters === undefined || !plan) return undefined;
  const item = plan.items.find(
    (each) =>
      each.kind === "setting" && each.to && indexOf(release.value).settings.get(each.to.key)?.concept?.id === concept,
  );
  if (item?.kind !== "setting" || typeof item.to?.value !== "number") return undefined;
  const setting = indexOf(release.value).settings.get(item.to.key);
  const value = (((item.to.value - quarters * 90) % 360) + 360) % 360;
  if (!setting || fitTo(setting.type, value)?.how !== "same") return undefined;
  return { itemId: item.id, value, label: `“${setting.title}” ${showValue(value, setting.type)}` };
}

export const checkAttitude = runAsks({
  asks: ATTITUDE_ASKS,
  proves: "All three signs are right:",
  neutral: { say: "Set it level again", expected: "level", is: isLevel },
  conclude: concludeAttitude,
  correction: mountedRight,
});
