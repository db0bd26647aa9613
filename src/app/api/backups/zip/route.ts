import { string } from "yup";
import { toZip } from "@/server/repositories/exports";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";

/** All backups of an aircraft in one archive. */
export function GET(request: Request): Promise<Response> {
  return handleGet("observer", async () => {
    const tag = await string()
      .matches(/^[A-Z0-9][A-Z0-9-]{0,15}$/, "This is no tag")
      .required()
      .validate(new URL(request.url).searchParams.get("tag") ?? "");
    return download(`${tag} backups.zip`, "application/zip", await toZip(tag));
  });
}
