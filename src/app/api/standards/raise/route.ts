import { number, object, string } from "yup";
import { raiseStandard } from "@/server/repositories/raise-standard";
import { handleJson } from "@/server/web/handle";

const shape = object({
  standardId: number().integer().positive().required(),
  releaseId: string().max(64).required(),
  silent: string()
    .oneOf(["keep", "take-default"] as const)
    .required(),
});

/** Carries a standard to another release, as its next version. */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "lead", shape, async (body, account) => ({
    version: await raiseStandard(body.standardId, body.releaseId, body.silent, account.name),
  }));
}
