import { array, number, object, string } from "yup";
import { confirmPassage } from "@/server/repositories/learning";
import { handleJson } from "@/server/web/handle";

const shape = object({
  from: string().max(64).required(),
  to: string().max(64).required(),
  /** Places of the rules in the proposal. */
  rules: array(number().integer().min(0).required()).min(1, "No rule is confirmed").max(4000).required(),
});

/** Writes confirmed rules into the newer release's document, as its next version. */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "lead", shape, (body, account) =>
    confirmPassage(body.from, body.to, body.rules, account.name),
  );
}
