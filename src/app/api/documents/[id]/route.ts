import { ProblemError } from "@/core/problem";
import { documentText } from "@/server/repositories/catalogue";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const document = await documentText(rowId((await params).id));
    if (!document) throw new ProblemError({ code: "document-none", message: "There is no such document" });
    return download(document.name, "application/yaml; charset=utf-8", document.text);
  });
}
