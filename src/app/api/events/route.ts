import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";
import { openStream } from "@/server/web/stream";

export const dynamic = "force-dynamic";

export async function GET(request: Request): Promise<Response> {
  try {
    await requireRole("observer");
    return await openStream(request);
  } catch (error) {
    return problemResponse(error);
  }
}
