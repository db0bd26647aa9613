import { one } from "@/server/sql";

export const dynamic = "force-dynamic";

/** For the start script and whoever watches the process: does the web answer, and its database. */
export async function GET(): Promise<Response> {
  try {
    await one("select 1 as up");
    return Response.json({ up: true });
  } catch {
    return Response.json({ up: false }, { status: 503 });
  }
}
