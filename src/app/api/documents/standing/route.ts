import { object, string } from "yup";
import { backInUse, withdraw } from "@/server/repositories/withdrawals";
import { trimmed } from "@/contracts/shapes";
import { handleJson } from "@/server/web/handle";

const shape = object({
  kind: string().max(40).required(),
  id: string().max(80).required(),
  does: string().oneOf(["withdraw", "use"]).required(),
  reason: trimmed()
    .max(400)
    .default("")
    .when("does", { is: "withdraw", then: (s) => s.required("Say why; it stands in the record") }),
});

/** Takes a document out of use, or into it again; it and its versions are kept. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, async ({ kind, id, does, reason }, { name }) => {
    await (does === "withdraw" ? withdraw(kind, id, reason, name) : backInUse(kind, id, name));
    return { done: true };
  });
