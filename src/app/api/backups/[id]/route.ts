import { string } from "yup";
import { backupById } from "@/server/repositories/backups";
import { toCsv, toJson } from "@/server/repositories/exports";
import { readingOf } from "@/server/repositories/readings";
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
    const name = row.name.replace(/[^A-Za-z0-9 ._-]/g, "-");
    const send = (body: BodyInit, type: string, extension: string) =>
      new Response(body, {
        headers: { "Content-Type": type, "Content-Disposition": `attachment; filename="${name}.${extension}"` },
      });
    if (form === undefined)
      return send(new Uint8Array(raw).buffer, "application/octet-stream", row.source === "rescue" ? "bin" : "txt");
    const recital = await readingOf(row.sha256);
    const [type, extension] = FORMS[form];
    return send(form === "csv" ? toCsv(recital) : toJson(recital, row.sha256), type, extension);
  });
}
