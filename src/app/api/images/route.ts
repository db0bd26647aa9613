import { object } from "yup";
import { importImage } from "@/server/repositories/catalogue";
import { handleFile } from "@/server/web/handle";

/** Takes an image file (of any format); which release and target it is for stands in it. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", 12_000_000, object({}), (file, _query, account) =>
    importImage(file, account.name),
  );
}
