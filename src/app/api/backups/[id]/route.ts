import { backupById } from "@/server/repositories/backups";
import { problemResponse } from "@/server/web/handle";
import { requireRole } from "@/server/web/session";

/** The bytes of a backup, as they were received. */
export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    await requireRole("observer");
    const { row, raw } = await backupById(Number((await params).id) || 0);
    const extension = row.source === "rescue" ? "bin" : "txt";
    return new Response(new Uint8Array(raw).buffer, {
      headers: {
        "Content-Type": "application/octet-stream",
        "Content-Disposition": `attachment; filename="${row.name.replace(/[^A-Za-z0-9 ._-]/g, "-")}.${extension}"`,
      },
    });
  } catch (error) {
    return problemResponse(error);
  }
}
