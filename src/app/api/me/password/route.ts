import { object, string } from "yup";
import { changePassword } from "@/server/accounts";
import { handleOwn } from "@/server/web/handle";
import { whereFrom } from "@/server/web/session";

const shape = object({ old: string().min(1).max(200).required(), wanted: string().min(1).max(200).required() });

/** One's own password; whoever else is signed in as oneself is out. */
export const POST = (request: Request): Promise<Response> =>
  handleOwn(request, shape, async ({ old, wanted }, { id, account }) =>
    changePassword(account.id, old, wanted, id, await whereFrom(account.name)),
  );
