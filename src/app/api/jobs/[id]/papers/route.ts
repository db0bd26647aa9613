import { visitPapers } from "@/server/repositories/visit-papers";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** A visit's papers in one archive, with the seals that prove them. */
export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  handleGet("observer", async () => {
    const { name, bytes } = await visitPapers(rowId((await params).id));
    return new Response(new Uint8Array(bytes).buffer, {
      headers: { "Content-Type": "application/zip", "Content-Disposition": `attachment; filename="${name}"` },
    });
  });
