import { ProblemError } from "@/core/problem";
import { documentText } from "@/server/repositories/catalogue";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

export function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return handleGet("observer", async () => {
    const document = await documentText(rowId((await params).id));
    if (!document) throw new ProblemError({ code: "document-none", message: "There is no such document" });
    return new Response(document.text, {
      headers: {
        "Content-Type": "application/yaml; charset=utf-8",
        "Content-Disposition": `attachment; filename="${document.name.replace(/[^A-Za-z0-9._-]/g, "-")}"`,
      },
    });
  });
}
