import { ProblemError } from "@/core/problem";
import { documentText } from "@/server/repositories/catalogue";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    await requireRole("observer");
    const document = await documentText(rowId((await params).id));
    if (!document) throw new ProblemError({ code: "document-none", message: "There is no such document" });
    return new Response(document.text, {
      headers: {
        "Content-Type": "application/yaml; charset=utf-8",
        "Content-Disposition": `attachment; filename="${document.name.replace(/[^A-Za-z0-9._-]/g, "-")}"`,
      },
    });
  } catch (error) {
    return problemResponse(error);
  }
}
