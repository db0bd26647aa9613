import { object } from "yup";
import { trimmed } from "@/contracts/shapes";
import { addAircraft } from "@/server/repositories/fleet";
import { handleJson } from "@/server/web/handle";

const shape = object({
  tag: trimmed()
    .matches(/^[A-Z0-9][A-Z0-9-]{0,15}$/, "A tag has capital letters, digits and hyphens, 16 at most")
    .required(),
  label: trimmed().max(80, "A label has at most 80 characters").default(""),
  type: trimmed().min(1, "The type is missing").max(40, "A type has at most 40 characters").required(),
});

export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", shape, async (body) => ({ id: await addAircraft(body) }));
}
