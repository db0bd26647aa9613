import { object } from "yup";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { IMAGE_BYTES } from "@/server/web/limits";

/** Takes an image file (of any format); which release and target it is for stands in it. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", IMAGE_BYTES, object({}), (raw, _query, { name }) =>
    readOutside("import-image", { raw, account: name }),
  );
}
