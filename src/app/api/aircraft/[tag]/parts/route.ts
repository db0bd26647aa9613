import { fittingShape } from "@/contracts/fitting";
import { aircraftByTag } from "@/server/repositories/fleet";
import { fitParts } from "@/server/repositories/fittings";
import { ProblemError } from "@/core/problem";
import { handleJson } from "@/server/web/handle";

/** Says what is fitted to an aircraft beside its board; no places: none of that kind any more. */
export async function POST(request: Request, { params }: { params: Promise<{ tag: string }> }): Promise<Response> {
  const { tag } = await params;
  return handleJson(request, "technician", fittingShape, async ({ target, supply, ...mount }, account) => {
    const aircraft = await aircraftByTag(decodeURIComponent(tag));
    if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: "There is no such aircraft" });
    const [first = "board"] = supply;
    const fed = supply.every((each) => each === first) ? first : supply;
    await fitParts(aircraft.id, { ...mount, supply: fed, ...(target ? { target } : {}) }, account.name);
  });
}
