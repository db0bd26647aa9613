import { object } from "yup";
import { previewDocument } from "@/server/repositories/preview";
import { handleFile } from "@/server/web/handle";

/** What would read differently with a document; nothing is kept. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", 2_000_000, object({}), (file) => previewDocument(new TextDecoder().decode(file)));
}
