import { serverProblem } from "@/server/away";
import { getDb } from "@/server/db";

export const dynamic = "force-dynamic";

/** For the start script and whoever watches the process: does the web answer, and its database. */
export async function GET(): Promise<Response> {
  try {
    await getDb().sequelize.authenticate();
    return Response.json({ up: true });
  } catch (error) {
    const { code, message, hint } = serverProblem(error);
    return Response.json({ up: false, problem: { code, message, hint } }, { status: 503 });
  }
}
