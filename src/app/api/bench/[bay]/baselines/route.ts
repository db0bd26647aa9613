import { ProblemError } from "@/core/problem";
import { BAYS } from "@/server/repositories/bench";
import { baselineChoices } from "@/server/repositories/baselines";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

/** What the board in a bay can be taken back to, with what each would change of it. */
export async function GET(_request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  try {
    await requireRole("observer");
    const bayNo = rowId((await params).bay);
    if (!Number.isInteger(bayNo) || bayNo < 1 || bayNo > BAYS)
      throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    return Response.json({ choices: await baselineChoices(bayNo) });
  } catch (error) {
    return problemResponse(error);
  }
}
