import { object, string } from "yup";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { ARCHIVE_BYTES } from "@/server/web/limits";

const query = object({ name: string().max(200).default("pasted text") });

/** Looks at a file or archive and proposes what it is; nothing is kept. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "technician", ARCHIVE_BYTES, query, async (raw, { name }) => ({
    entries: await readOutside("inspect", { raw, name }),
  }));
}
