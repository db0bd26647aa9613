import { serverProblem } from "@/server/away";
import { one } from "@/server/sql";

export const dynamic = "force-dynamic";

/** For the start script and whoever watches the process: does the web answer, and its database. */
export async function GET(): Promise<Response> {
  try {
    await one("select 1 as up");
    return Response.json({ up: true });
  } catch (error) {
    const { code, message, hint } = serverProblem(error);
    return Response.json({ up: false, problem: { code, message, hint } }, { status: 503 });
  }
}
