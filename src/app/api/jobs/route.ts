import { jobWishShape, scopeFrom } from "@/contracts/job-wish";
import { needAreas } from "@/server/repositories/areas";
import { orderJob } from "@/server/repositories/jobs";
import { handleJson } from "@/server/web/handle";

/** Orders a job: a wish becomes a goal, or is refused with what is known to fail (`settle-goal.ts`). */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", jobWishShape, async ({ bayNo, aircraftId, goal, scope }, account) => {
    if ("parts" in goal) await needAreas(Object.keys(goal.parts));
    const order = { bayNo, aircraftId, account: account.name, goal };
    return { id: await orderJob(scope ? { ...order, scope: scopeFrom(scope) } : order) };
  });
}
