import { ProblemError } from "@/core/problem";
import { benchOfBay } from "@/server/repositories/bench";
import { releaseChoices } from "@/server/repositories/release-choices";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** The releases that are built for the board in a bay, with what each would mean for it. */
export function GET(_request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const bayNo = rowId((await params).bay);
    if (!(await benchOfBay(bayNo))) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    return Response.json(await releaseChoices(bayNo));
  });
}
