import { string } from "yup";
import { sideChoices } from "@/server/repositories/sides";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";

/** What can stand on a side of a comparison and fits a few letters. */
export async function GET(request: Request): Promise<Response> {
  try {
    await requireRole("observer");
    const query = await string()
      .trim()
      .max(80)
      .default("")
      .validate(new URL(request.url).searchParams.get("q") ?? "");
    return Response.json({ things: await sideChoices(query) });
  } catch (error) {
    return problemResponse(error);
  }
}
