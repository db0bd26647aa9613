import { boolean, object } from "yup";
import { packOf } from "@/server/repositories/packs";
import { readOutside } from "@/server/outside/pool";
import { trimmed } from "@/contracts/shapes";
import { download } from "@/server/web/download";
import { handleFile, handleGet } from "@/server/web/handle";
import { ARCHIVE_BYTES } from "@/server/web/limits";

const family = trimmed().min(1).max(80).required();

/** A family's documents as one file, with everything that they name. */
export function GET(request: Request): Promise<Response> {
  return handleGet("observer", async ({ name: account }) => {
    const wanted = family.validateSync(new URL(request.url).searchParams.get("family") ?? "");
    const { name, bytes } = await packOf(wanted, account, new Date());
    return download(name, "application/zip", bytes);
  });
}

const query = object({
  /** Only looks: nothing is kept. */
  look: boolean().default(false),
  /** What the workshop has otherwise comes in as the next version. */
  over: boolean().default(false),
});

/** Takes a pack in, all of it or nothing; with `look` says what it would bring. */
export function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", ARCHIVE_BYTES, query, (raw, { look, over }, { name }) =>
    look ? readOutside("preview-pack", { raw }) : readOutside("import-pack", { raw, over, account: name }),
  );
}
