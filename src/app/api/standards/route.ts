import { number, object } from "yup";
import { trimmed } from "@/contracts/shapes";
import { makeStandard } from "@/server/repositories/standards";
import { handleJson } from "@/server/web/handle";

const shape = object({
  type: trimmed().min(1).max(40).required(),
  backupId: number().integer().positive().required(),
  note: trimmed().max(400, "A note has at most 400 characters").default(""),
});

/** Makes a backup the next version of a type's standard. */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "lead", shape, async (body, account) => ({
    version: await makeStandard(body.type, body.backupId, body.note, account.name),
  }));
}
