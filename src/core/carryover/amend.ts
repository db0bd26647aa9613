import { indexOf, type Firmware } from "@/core/catalog";
import { showValue, type Value } from "@/core/config";
import { fitTo } from "@/core/carryover/pass";
import type { Plan, SettingItem } from "@/core/carryover/plan";
import { ok, refuse, type Result } from "@/core/problem";

/**
 * A plan with one value put right by a person's word, whatever it would have been. Refuses a place that the plan does not
 * write, and a value that its setting cannot hold.
 */
export function withValue(plan: Plan, itemId: string, value: Value, to: Firmware, why: string): Result<Plan> {
  const item = plan.items.find((each): each is SettingItem => each.kind === "setting" && each.id === itemId);
  const setting = item?.to && indexOf(to).settings.get(item.to.key);
  if (!item?.to || !setting)
    return refuse({ code: "amend-none", message: "The plan writes no such value", detail: itemId });
  const fit = fitTo(setting.type, value);
  if (fit?.how !== "same")
    return refuse({
      code: "amend-range",
      message: `“${setting.title}” cannot be ${showValue(value, setting.type)}`,
      hint: "Stop the job, and set the board up as it lies",
    });
  const shown = showValue(fit.value, setting.type);
  const amended: SettingItem = {
    ...item,
    outcome: "converted",
    reason: why,
    to: { ...item.to, value: fit.value, shown },
    trail: [...item.trail, { rule: "by hand", why, before: item.to.shown, after: shown }],
    choices: [],
  };
  return ok({ ...plan, items: plan.items.map((each) => (each === item ? amended : each)) });
}
