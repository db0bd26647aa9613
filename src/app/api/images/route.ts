import { object, string } from "yup";
import { importImage } from "@/server/repositories/catalogue";
import { handleFile } from "@/server/web/handle";

const query = object({ release: string().max(64).required(), target: string().max(64).required() });

/** Takes an image file (Intel HEX or raw) for a release and target. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", 12_000_000, query, (file, { release, target }, account) =>
    importImage(file, release, target, account.name),
  );
}
