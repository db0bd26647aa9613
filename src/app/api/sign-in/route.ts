import { object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { signIn } from "@/server/accounts";
import { TollDue } from "@/server/sign-in-toll";
import { problemResponse, readJson, refuseForged } from "@/server/web/handle";
import { letIn, whereFrom } from "@/server/web/session";

const shape = object({
  name: trimmed().min(1).max(40).required(),
  password: string().min(1).max(200).required(),
  code: string().max(20),
  paid: string().max(120),
});

export async function POST(request: Request): Promise<Response> {
  try {
    refuseForged(request);
    const attempt = await shape.validate(await readJson(request, 2_000));
    const account = await signIn(attempt, await whereFrom(attempt.name));
    await letIn(account);
    return Response.json({ name: account.name, role: account.role });
  } catch (error) {
    return problemResponse(error, error instanceof TollDue ? { toll: error.toll } : {});
  }
}
