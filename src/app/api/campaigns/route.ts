import { object, string } from "yup";
import type { CampaignGoal } from "@/core/campaign";
import type { Scope } from "@/core/carryover";
import { scopeFrom, scopeShape } from "@/contracts/job-wish";
import { trimmed } from "@/contracts/shapes";
import { beginCampaign } from "@/server/repositories/campaigns";
import { handleJson } from "@/server/web/handle";

const shape = object({
  type: string().max(40).required(),
  goal: string()
    .oneOf(["update", "standard", "parts"] as const)
    .required(),
  releaseId: string()
    .max(64)
    .when("goal", { is: (goal: string) => goal !== "standard", then: (s) => s.required() }),
  scope: scopeShape.default(undefined).optional(),
  note: trimmed().max(400).default(""),
});

function goalFrom(kind: CampaignGoal["kind"], releaseId: string, scope: Scope | undefined): CampaignGoal {
  if (kind === "standard") return { kind };
  return kind === "parts" ? { kind, releaseId } : { kind, releaseId, ...(scope ? { scope } : {}) };
}

/** Begins a campaign for every aircraft of a type. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, async ({ type, goal, releaseId = "", scope, note }, account) => ({
    id: await beginCampaign({
      type,
      goal: goalFrom(goal, releaseId, scope ? scopeFrom(scope) : undefined),
      note,
      account: account.name,
    }),
  }));
