import { string } from "yup";
import { backupById } from "@/server/repositories/backups";
import { toCsv, toJson } from "@/server/repositories/exports";
import { readingOf } from "@/server/repositories/readings";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

const FORMS = {
  csv: ["text/csv; charset=utf-8", "csv"],
  json: ["application/json; charset=utf-8", "json"],
} as const;

/** The bytes of a backup as they were received; with `form`, its values as CSV or JSON. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const form = await string()
      .oneOf(["csv", "json"] as const)
      .validate(new URL(request.url).searchParams.get("form") ?? undefined);
    const { row, raw } = await backupById(rowId((await params).id));
    if (form === undefined)
      return download(`${row.name}.${row.source === "rescue" ? "bin" : "txt"}`, "application/octet-stream", raw);
    const recital = await readingOf(row.sha256);
    const [type, extension] = FORMS[form];
    return download(`${row.name}.${extension}`, type, form === "csv" ? toCsv(recital) : toJson(recital, row.sha256));
  });
}
