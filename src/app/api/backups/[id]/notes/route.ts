import { object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { backupById } from "@/server/repositories/backups";
import { addNote } from "@/server/repositories/notes";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

const shape = object({
  kind: string()
    .oneOf(["note", "wiring"] as const)
    .required(),
  text: trimmed().min(1, "The note is empty").max(4000, "A note has at most 4000 characters").required(),
});

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = rowId((await params).id);
  return handleJson(request, "technician", shape, async (body, account) => {
    await backupById(id);
    await addNote(id, body.kind, body.text, account.name);
  });
}
