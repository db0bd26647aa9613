import { ProblemError } from "@/core/problem";
import { benchOfBay } from "@/server/repositories/bench";
import { handleGet } from "@/server/web/handle";
import { partChoices } from "@/server/web/parts-view";
import { rowId } from "@/server/web/row-id";

/** The parts behind the board in a bay: how they were read last, and what they can be given. */
export function GET(_request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const bayNo = rowId((await params).bay);
    if (!(await benchOfBay(bayNo))) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    return Response.json(await partChoices(bayNo));
  });
}
