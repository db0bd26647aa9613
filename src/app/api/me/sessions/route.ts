import { object } from "yup";
import { endSessions } from "@/server/sessions";
import { handleOwn } from "@/server/web/handle";

/** Ends all of one's own sessions but this one. */
export const POST = (request: Request): Promise<Response> =>
  handleOwn(request, object({}), async (_, { id, account }) => ({
    ended: await endSessions({ accountId: account.id, but: id }, "ended from another browser"),
  }));
