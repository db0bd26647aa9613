import { object } from "yup";
import { liftGrounding } from "@/server/repositories/groundings";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** Takes one reason back, by name. */
export async function DELETE(
  request: Request,
  { params }: { params: Promise<{ tag: string; id: string }> },
): Promise<Response> {
  const { tag, id } = await params;
  return handleJson(request, "technician", object({}), (_body, account) =>
    liftGrounding(decodeURIComponent(tag), rowId(id), account.name),
  );
}
