import { imageAsFile } from "@/server/repositories/catalogue";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** A stored image as a file of the wanted format. */
export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const format = new URL(request.url).searchParams.get("format") ?? "intel-hex";
    const { file, name } = await imageAsFile(rowId((await params).id), format.slice(0, 40));
    return download(name, "application/octet-stream", file);
  });
}
