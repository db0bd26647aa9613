import { string } from "yup";
import { toZip } from "@/server/repositories/exports";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";

/** All backups of an aircraft in one archive. */
export async function GET(request: Request): Promise<Response> {
  try {
    await requireRole("observer");
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
  } catch (error) {
    return problemResponse(error);
  }
}
