import { keepSheet } from "@/server/repositories/pad-sheets";
import { sheetShape } from "@/server/web/sheet-shape";
import { handleJson } from "@/server/web/handle";

/** Keeps what a maker's pad sheet comes out as: the board and the release that builds it, both or neither. */
export const POST = (request: Request): Promise<Response> =>
  handleJson(request, "lead", sheetShape, (asked, { name }) => keepSheet(asked, name));
