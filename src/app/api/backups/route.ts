import { object, string } from "yup";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { ARCHIVE_BYTES, READOUT_BYTES } from "@/server/web/limits";

const query = object({
  tag: string().max(16).required(),
  /** Which file of an archive. */
  entry: string().max(200),
  /** What somebody says that it is: a release, and what it holds. */
  as: string().max(80),
  extent: string().oneOf(["all", "moved"] as const),
});

/** Files a read-out that somebody brings: a text, or one file of an archive. */
export async function POST(request: Request): Promise<Response> {
  const limit = new URL(request.url).searchParams.has("entry") ? ARCHIVE_BYTES : READOUT_BYTES;
  return handleFile(request, "technician", limit, query, (file, { tag, entry, as, extent }, { name }) => {
    const readAs = as === undefined ? undefined : { releaseId: as, ...(extent === undefined ? {} : { extent }) };
    return readOutside("file-readout", { file, tag, entry, account: name, readAs });
  });
}
