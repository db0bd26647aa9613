import { boolean, object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { readOutside } from "@/server/outside/pool";
import { handleFile } from "@/server/web/handle";
import { READOUT_BYTES } from "@/server/web/limits";

const query = object({
  idiom: string().max(64),
  family: trimmed().max(80),
  version: trimmed().max(16),
  keep: boolean().default(false),
});

/** Learns a release from the read-out of a freshly erased board; with `keep`, keeps it as a document. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", READOUT_BYTES, query, (raw, { idiom, family, version, keep }, { name }) => {
    const about = { ...(family ? { family } : {}), ...(version ? { version } : {}) };
    return readOutside("learn", { raw, idiom, about, keep, account: name });
  });
}
