import { number, object, string } from "yup";
import { orderJob } from "@/server/repositories/jobs";
import { handleJson } from "@/server/web/handle";

/** A release to update to, a backup to set the board up from, or a release to revive it on. */
const shape = object({
  bayNo: number().integer().min(1).max(24).required(),
  aircraftId: number().integer().positive().required(),
  goal: string().oneOf(["update", "set-up", "revive"]).required(),
  releaseId: string()
    .max(64)
    .when("goal", { is: "set-up", otherwise: (s) => s.required() }),
  backupId: number()
    .integer()
    .positive()
    .when("goal", { is: "set-up", then: (s) => s.required() }),
});

export async function POST(request: Request): Promise<Response> {
  return handleJson(
    request,
    "technician",
    shape,
    async ({ bayNo, aircraftId, goal, releaseId = "", backupId = 0 }, account) => ({
      id: await orderJob({
        bayNo,
        aircraftId,
        account: account.name,
        goal: goal === "set-up" ? { kind: goal, backupId } : { kind: goal, releaseId },
      }),
    }),
  );
}
