import { object, string } from "yup";
import { askKeeper } from "@/server/keeping";
import { handleJson } from "@/server/web/handle";

const shape = object({
  ask: string()
    .oneOf(["copy", "look"] as const)
    .required(),
});

/** Asks the workshop's keeper for a copy, or for a look at everything that is kept. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, ({ ask }) => askKeeper(ask));
