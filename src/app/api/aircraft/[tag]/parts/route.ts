import { array, object, string } from "yup";
import { SUPPLIES } from "@/core/catalog";
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
  /** Of each of the places, in their order. */
  supply: array(string().oneOf(SUPPLIES).required()).min(1).max(32, "At most 32 places").required(),
}).test(
  "each-fed",
  "Say of each place what feeds it, or one for all",
  ({ supply, places }) => supply.length === 1 || supply.length === places.length,
);

/** Says what is fitted to an aircraft beside its board; no places: none of that kind any more. */
export async function POST(request: Request, { params }: { params: Promise<{ tag: string }> }): Promise<Response> {
  const { tag } = await params;
  return handleJson(request, "technician", shape, async ({ target, supply, ...mount }, account) => {
    const aircraft = await aircraftByTag(decodeURIComponent(tag));
    if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: "There is no such aircraft" });
    const [first = "board"] = supply;
    const fed = supply.every((each) => each === first) ? first : supply;
    await fitParts(aircraft.id, { ...mount, supply: fed, ...(target ? { target } : {}) }, account.name);
  });
}
