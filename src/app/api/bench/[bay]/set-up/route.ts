import { ProblemError } from "@/core/problem";
import { benchOfBay } from "@/server/repositories/bench";
import { setUpChoices } from "@/server/repositories/set-up-choices";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** On which releases the board in a bay can be set up as a backup says, and what each would change of it. */
export function GET(request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const bayNo = rowId((await params).bay);
    if (!(await benchOfBay(bayNo))) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    const backupId = rowId(new URL(request.url).searchParams.get("backup") ?? "");
    if (!Number.isSafeInteger(backupId))
      throw new ProblemError({ code: "backup-none", message: "There is no such backup" });
    return Response.json(await setUpChoices(bayNo, backupId));
  });
}
