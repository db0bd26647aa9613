import { object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { addAccount } from "@/server/accounts";
import { ROLES } from "@/server/roles";
import { handleJson } from "@/server/web/handle";

const shape = object({
  name: trimmed().max(40).required(),
  person: trimmed().max(80).default(""),
  role: string().oneOf(ROLES).required(),
});

/** A new account, with a password that is told once and has to be replaced. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", shape, async (body) => ({
    name: body.name,
    password: (await addAccount(body)).password,
  }));
