import { problemResponse } from "@/server/web/handle";
import { requireSession } from "@/server/web/session";
import { openStream } from "@/server/web/stream";

export const dynamic = "force-dynamic";

export async function GET(request: Request): Promise<Response> {
  try {
    // a page that only listens is no sign of somebody being there
    return await openStream(request, (await requireSession("observer", { use: false })).id);
  } catch (error) {
    return problemResponse(error);
  }
}

/** What GET would say of itself, without a stream. */
export async function HEAD(): Promise<Response> {
  try {
    await requireSession("observer", { use: false });
    return new Response(null, { headers: { "Content-Type": "text/event-stream; charset=utf-8" } });
  } catch (error) {
    return problemResponse(error);
  }
}
