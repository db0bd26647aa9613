import { benchOfBay } from "@/server/repositories/bench";
import { ProblemError } from "@/core/problem";
import { abilityChoices } from "@/server/web/ability-view";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** What the aircraft of the board in a bay could do beside what it can, and what that wants of it. */
export function GET(_request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const bayNo = rowId((await params).bay);
    if (!(await benchOfBay(bayNo))) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    return Response.json(await abilityChoices(bayNo));
  });
}
