import { string } from "yup";
import { ProblemError } from "@/core/problem";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { planOfJob, readJob } from "@/server/web/job-view";
import { planCsv, planExport, planText } from "@/server/web/plan-export";
import { rowId } from "@/server/web/row-id";

const FORMS = {
  csv: { type: "text/csv; charset=utf-8", ending: "csv" },
  text: { type: "text/plain; charset=utf-8", ending: "txt" },
} as const;

/** The carry-over plan of a job as CSV or plain text, with what is decided now. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const form = await string()
      .oneOf(["csv", "text"] as const)
      .required()
      .validate(new URL(request.url).searchParams.get("form") ?? undefined);
    const view = await readJob(rowId((await params).id));
    const plan = view && (await planOfJob(view));
    if (!view || !plan)
      throw new ProblemError({
        code: "plan-none",
        message: "There is no plan of this visit",
        hint: "It is worked out from the backup of the visit",
      });
    const lines = await planExport(view, plan);
    const { type, ending } = FORMS[form];
    const name = `${view.job.tag} visit ${view.job.id} plan.${ending}`;
    return download(name, type, form === "csv" ? planCsv(lines) : planText(view, plan, lines));
  });
}
