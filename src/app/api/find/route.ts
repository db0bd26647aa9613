import { string } from "yup";
import { find } from "@/server/repositories/find";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";

/** What fits a few letters: aircraft, types, jobs, backups, releases, settings, things to do. */
export async function GET(request: Request): Promise<Response> {
  try {
    await requireRole("observer");
    const query = await string()
      .trim()
      .max(80)
      .default("")
      .validate(new URL(request.url).searchParams.get("q") ?? "");
    return Response.json({ things: await find(query) });
  } catch (error) {
    return problemResponse(error);
  }
}
