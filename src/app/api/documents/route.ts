import { object } from "yup";
import { importDocument } from "@/server/repositories/catalogue";
import { handleFile } from "@/server/web/handle";

export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", 2_000_000, object({}), (file, _query, account) =>
    importDocument(new TextDecoder().decode(file), account.name),
  );
}
