import { object, string } from "yup";
import { ProblemError } from "@/core/problem";
import { fileBackup } from "@/server/repositories/backups";
import { aircraftByTag } from "@/server/repositories/fleet";
import { handleFile } from "@/server/web/handle";

const LIMIT_BYTES = 4_000_000;
const query = object({ tag: string().max(16).required() });

/** Files a read-out that somebody brings as a text. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "technician", LIMIT_BYTES, query, async (raw, { tag }, account) => {
    const aircraft = await aircraftByTag(tag);
    if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
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
