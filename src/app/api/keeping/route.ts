import { object, string } from "yup";
import { askKeeper } from "@/server/keeping";
import { trimmed } from "@/contracts/shapes";
import { replaceSigningKey } from "@/server/signing";
import { handleJson } from "@/server/web/handle";

const shape = object({
  ask: string()
    .oneOf(["copy", "look", "key"] as const)
    .required(),
  /** Why another key signs from now on. */
  reason: trimmed()
    .max(400)
    .when("ask", { is: "key", then: (s) => s.min(3, "Say why another key shall sign").required() }),
});

/** Asks the workshop's keeper for a copy, or for a look at everything that is kept; or replaces the key that signs papers. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, ({ ask, reason = "" }, { name }) =>
    ask === "key" ? replaceSigningKey(name, reason) : askKeeper(ask),
  );
