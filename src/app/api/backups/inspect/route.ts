import { object, string } from "yup";
import { inspectFile } from "@/server/repositories/intake";
import { handleFile } from "@/server/web/handle";

const query = object({ name: string().max(200).default("pasted text") });

/** Looks at a file or archive and proposes what it is; nothing is kept. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "technician", 20_000_000, query, async (file, { name }) => ({
    entries: await inspectFile(file, name),
  }));
}
