import { object, string } from "yup";
import { signIn } from "@/server/accounts";
import { problemResponse, readBytes, refuseForged } from "@/server/web/handle";
import { getSession } from "@/server/web/session";

const shape = object({
  name: string().trim().min(1).max(40).required(),
  password: string().min(1).max(200).required(),
});

export async function POST(request: Request): Promise<Response> {
  try {
    refuseForged(request);
    const text = new TextDecoder().decode(await readBytes(request, 2_000));
    const body = await shape.validate(JSON.parse(text === "" ? "{}" : text));
    const account = await signIn(body.name, body.password);
    const session = await getSession();
    session.accountId = account.id;
    await session.save();
    return Response.json({ name: account.name, role: account.role });
  } catch (error) {
    return problemResponse(error);
  }
}
