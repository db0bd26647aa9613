import { number, object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { allow, endAllowance } from "@/server/repositories/policy";
import { handleJson } from "@/server/web/handle";

const shape = object({
  /** One to end; without it a new one. */
  end: number()
    .integer()
    .positive()
    .max(2 ** 31 - 1),
  type: string()
    .max(40)
    .when("end", { is: undefined, then: (s) => s.required() }),
  kind: string()
    .oneOf(["area", "place"] as const)
    .when("end", { is: undefined, then: (s) => s.required() }),
  name: string()
    .max(200)
    .when("end", { is: undefined, then: (s) => s.required() }),
  tag: string().max(40),
  reason: trimmed()
    .max(400)
    .default("")
    .when("end", { is: undefined, then: (s) => s.required("Say why; it stands beside what is allowed") }),
});

/** A lead lets a difference from a type's standard be, or ends that. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, async ({ end, type = "", kind = "place", name = "", tag, reason }, account) => {
    if (end !== undefined) return endAllowance(end, account.name);
    const wish = { type, kind, name, reason, account: account.name };
    return { id: await allow({ ...wish, ...(tag === undefined || tag === "" ? {} : { tag }) }) };
  });
