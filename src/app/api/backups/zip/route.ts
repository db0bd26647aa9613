import { string } from "yup";
import { toZip } from "@/server/repositories/exports";
import { handleGet } from "@/server/web/handle";

/** All backups of an aircraft in one archive. */
export function GET(request: Request): Promise<Response> {
  return handleGet("observer", async () => {
    const tag = await string()
      .matches(/^[A-Z0-9][A-Z0-9-]{0,15}$/, "This is no tag")
      .required()
      .validate(new URL(request.url).searchParams.get("tag") ?? "");
    const archive = await toZip(tag);
    return new Response(new Uint8Array(archive).buffer, {
      headers: {
        "Content-Type": "application/zip",
        "Content-Disposition": `attachment; filename="${tag} backups.zip"`,
      },
    });
  });
}
