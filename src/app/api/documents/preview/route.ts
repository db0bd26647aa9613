import { object } from "yup";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { DOCUMENT_BYTES } from "@/server/web/limits";

/** What would read differently with a document; nothing is kept. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", DOCUMENT_BYTES, object({}), (raw) => readOutside("preview-document", { raw }));
}
