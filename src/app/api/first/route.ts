import { object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { addFirstLead } from "@/server/accounts";
import { endFirstRun, isFirstRunCode } from "@/server/first-run";
import { problemResponse, readJson, refuseForged } from "@/server/web/handle";
import { letIn } from "@/server/web/session";
import { ProblemError } from "@/core/problem";

const shape = object({
  code: trimmed().max(100).required(),
  name: trimmed().max(40).required(),
  person: trimmed().max(80).default(""),
  password: string().max(200).required(),
});

/** The first account of a workshop that has none. */
export async function POST(request: Request): Promise<Response> {
  try {
    refuseForged(request);
    const { code, name, person, password } = await shape.validate(await readJson(request, 2_000));
    if (!isFirstRunCode(code))
      throw new ProblemError({
        code: "first-code",
        message: "That is not the code of this workshop",
        hint: "bin/start prints it each time until the first account is made",
      });
    const { id } = await addFirstLead(name, person, password);
    endFirstRun();
    await letIn({ id, name });
    return Response.json({ name });
  } catch (error) {
    return problemResponse(error);
  }
}
