import { string } from "yup";
import { ProblemError } from "@/core/problem";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { readJob } from "@/server/web/job-view";
import { proofCsv, proofJson, proofOfJob } from "@/server/web/proof-view";
import { rowId } from "@/server/web/row-id";

const FORMS = { csv: "text/csv; charset=utf-8", json: "application/json; charset=utf-8" } as const;

/** The proof of a job as CSV or JSON. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const form = await string()
      .oneOf(["csv", "json"] as const)
      .required()
      .validate(new URL(request.url).searchParams.get("form") ?? undefined);
    const view = await readJob(rowId((await params).id));
    const found = view && (await proofOfJob(view));
    if (!view || !found)
      throw new ProblemError({
        code: "proof-none",
        message: "There is no proof of this visit",
        hint: "It comes with the step “Read back and prove”",
      });
    const name = `${view.job.tag} visit ${view.job.id} proof.${form}`;
    return download(name, FORMS[form], form === "csv" ? proofCsv(found) : proofJson(view, found));
  });
}
