import { object } from "yup";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { DOCUMENT_BYTES } from "@/server/web/limits";

export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", DOCUMENT_BYTES, object({}), (raw, _query, { name }) =>
    readOutside("import-document", { raw, account: name }),
  );
}
