import { problemResponse, refuseForged } from "@/server/web/handle";
import { getSession } from "@/server/web/session";

export async function POST(request: Request): Promise<Response> {
  try {
    refuseForged(request);
    (await getSession()).destroy();
    return Response.json({});
  } catch (error) {
    return problemResponse(error);
  }
}
