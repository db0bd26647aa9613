import { object, string } from "yup";
import { ProblemError } from "@/core/problem";
import { fileBackup, knownCopy } from "@/server/repositories/backups";
import { aircraftByTag } from "@/server/repositories/fleet";
import { entriesOf } from "@/server/repositories/intake";
import { handleFile } from "@/server/web/handle";

const LIMIT_BYTES = 4_000_000;
const ARCHIVE_LIMIT_BYTES = 20_000_000;
const query = object({
  tag: string().max(16).required(),
  /** Which file of an archive. */
  entry: string().max(200),
});

/** Files a read-out that somebody brings: a text, or one file of an archive. The same bytes are filed once. */
export async function POST(request: Request): Promise<Response> {
  const archive = new URL(request.url).searchParams.has("entry");
  const limit = archive ? ARCHIVE_LIMIT_BYTES : LIMIT_BYTES;
  return handleFile(request, "technician", limit, query, async (file, { tag, entry }, account) => {
    const aircraft = await aircraftByTag(tag);
    if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
    const raw = entry === undefined ? file : entriesOf(file, entry).find((each) => each.name === entry)?.bytes;
    if (!raw)
      throw new ProblemError({ code: "archive-entry", message: "The archive holds no such file", detail: entry ?? "" });
    const copy = await knownCopy(raw, aircraft.id);
    if (copy)
      throw new ProblemError({
        code: "backup-known",
        message: "The same read-out is on file already",
        detail: copy.name,
        hint: `It is backup ${copy.id} of ${tag}; nothing was filed`,
      });
    const { id, recital } = await fileBackup({
      raw,
      tag,
      aircraftId: aircraft.id,
      jobId: null,
      chipId: null,
      source: "file",
      account: account.name,
      at: new Date().toISOString(),
    });
    return { id, verdict: recital.completeness.verdict };
  });
}
