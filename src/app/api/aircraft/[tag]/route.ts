import { object } from "yup";
import { trimmed } from "@/contracts/shapes";
import { relabelAircraft } from "@/server/repositories/fleet";
import { handleJson } from "@/server/web/handle";

const shape = object({ label: trimmed().max(80, "A label has at most 80 characters").defined() });

export async function PATCH(request: Request, { params }: { params: Promise<{ tag: string }> }): Promise<Response> {
  const { tag } = await params;
  return handleJson(request, "technician", shape, (body) => relabelAircraft(tag, body.label));
}
