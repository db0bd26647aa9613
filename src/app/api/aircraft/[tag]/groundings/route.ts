import { object } from "yup";
import { trimmed } from "@/contracts/shapes";
import { groundAircraft } from "@/server/repositories/groundings";
import { handleJson } from "@/server/web/handle";

const shape = object({
  reason: trimmed().min(3, "Say why, in a few words").max(200, "At most 200 characters").required("Say why"),
});

/** Keeps an aircraft on the ground, for a reason that stands until it is taken back by name. */
export async function POST(request: Request, { params }: { params: Promise<{ tag: string }> }): Promise<Response> {
  const { tag } = await params;
  return handleJson(request, "technician", shape, ({ reason }, account) =>
    groundAircraft(decodeURIComponent(tag), reason, account.name),
  );
}
