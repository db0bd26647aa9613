import { ProblemError } from "@/core/problem";
import { benchOfBay } from "@/server/repositories/bench";
import { baselineChoices } from "@/server/repositories/baselines";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** What the board in a bay can be taken back to, with what each would change of it. */
export function GET(_request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const bayNo = rowId((await params).bay);
    if (!(await benchOfBay(bayNo))) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    return Response.json({ choices: await baselineChoices(bayNo) });
  });
}
