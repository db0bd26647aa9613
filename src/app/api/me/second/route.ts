import { object, string } from "yup";
import { confirmSecond, endOwnSecond, hasSecond, proposeSecond } from "@/server/second-factor";
import { handleOwn } from "@/server/web/handle";
import { whereFrom } from "@/server/web/session";
import { ProblemError } from "@/core/problem";

const shape = object({
  act: string()
    .oneOf(["propose", "confirm", "end"] as const)
    .required(),
  seal: string().max(1000).default(""),
  code: string().max(20).default(""),
});

/** One's own second factor: a key is shown, the first code of it takes it into use, another takes it away. */
export const POST = (request: Request): Promise<Response> =>
  handleOwn(request, shape, async ({ act, seal, code }, { id, account }) => {
    const now = Date.now();
    if (act === "propose") return proposeSecond(account.name);
    if (act === "end") return endOwnSecond(account, code, id, await whereFrom(account.name), now);
    if (await hasSecond(account.id))
      throw new ProblemError({ code: "second-there", message: "There is one already", hint: "Remove it first" });
    return confirmSecond(account.id, seal, code, id, now);
  });
