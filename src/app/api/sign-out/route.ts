import { problemResponse, refuseForged } from "@/server/web/handle";
import { signOut } from "@/server/web/session";

export async function POST(request: Request): Promise<Response> {
  try {
    refuseForged(request);
    await signOut();
    return Response.json({});
  } catch (error) {
    return problemResponse(error);
  }
}
