import { array, object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { aircraftByTag } from "@/server/repositories/fleet";
import { fitParts } from "@/server/repositories/fittings";
import { ProblemError } from "@/core/problem";
import { handleJson } from "@/server/web/handle";

const shape = object({
  part: trimmed().max(60, "At most 60 characters").required("Say what kind of part"),
  title: trimmed().max(60, "At most 60 characters").required("Say what one of them is called"),
  places: array(trimmed().max(40, "At most 40 characters").required())
    .max(32, "At most 32 places")
    .test("once", "Each place once", (places) => new Set(places).size === (places ?? []).length)
    .required(),
  target: trimmed().max(64),
  supply: string().oneOf(["board", "battery"]).required(),
});

/** Says what is fitted to an aircraft beside its board; no places: none of that kind any more. */
export async function POST(request: Request, { params }: { params: Promise<{ tag: string }> }): Promise<Response> {
  const { tag } = await params;
  return handleJson(request, "technician", shape, async ({ target, ...mount }, account) => {
    const aircraft = await aircraftByTag(decodeURIComponent(tag));
    if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: "There is no such aircraft" });
    await fitParts(aircraft.id, { ...mount, ...(target ? { target } : {}) }, account.name);
  });
}
