import { number, object, string } from "yup";
import { orderJob } from "@/server/repositories/jobs";
import { handleJson } from "@/server/web/handle";

/** Either a release to update to, or a backup to set the board up from. */
const shape = object({
  bayNo: number().integer().min(1).max(24).required(),
  aircraftId: number().integer().positive().required(),
  releaseId: string().max(64),
  backupId: number().integer().positive(),
}).test(
  "one-goal",
  "Either releaseId or backupId is wanted",
  ({ releaseId, backupId }) => (releaseId === undefined) !== (backupId === undefined),
);

export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", shape, async ({ bayNo, aircraftId, releaseId, backupId }, account) => ({
    id: await orderJob({
      bayNo,
      aircraftId,
      account: account.name,
      goal: backupId === undefined ? { kind: "update", releaseId: releaseId ?? "" } : { kind: "set-up", backupId },
    }),
  }));
}
