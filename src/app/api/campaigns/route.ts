import { object, string } from "yup";
import { scopeFrom, scopeShape } from "@/contracts/job-wish";
import { trimmed } from "@/contracts/shapes";
import { beginCampaign } from "@/server/repositories/campaigns";
import { handleJson } from "@/server/web/handle";

const shape = object({
  type: string().max(40).required(),
  goal: string().oneOf(["update", "standard"]).required(),
  releaseId: string()
    .max(64)
    .when("goal", { is: "update", then: (s) => s.required() }),
  scope: scopeShape.default(undefined).optional(),
  note: trimmed().max(400).default(""),
});

/** Begins a campaign for every aircraft of a type. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, async ({ type, goal, releaseId = "", scope, note }, account) => ({
    id: await beginCampaign({
      type,
      goal:
        goal === "standard"
          ? { kind: goal }
          : { kind: "update", releaseId, ...(scope ? { scope: scopeFrom(scope) } : {}) },
      note,
      account: account.name,
    }),
  }));
