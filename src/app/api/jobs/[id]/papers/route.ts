import { visitPapers } from "@/server/repositories/visit-papers";
import { download } from "@/server/web/download";
import { handleGet } from "@/server/web/handle";
import { readJobAnyway } from "@/server/web/job-view";
import { visitReading } from "@/server/web/visit-reading";
import { rowId } from "@/server/web/row-id";

/** A visit's papers in one archive, with the seals that prove them. */
export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  handleGet("observer", async () => {
    const id = rowId((await params).id);
    const view = await readJobAnyway(id);
    // a visit whose record cannot be read has its sealed papers all the same
    const reading = view && "state" in view ? await visitReading(view) : {};
    const { name, bytes } = await visitPapers(id, reading);
    return download(name, "application/zip", bytes);
  });
