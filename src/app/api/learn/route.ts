import { boolean, object, string } from "yup";
import { keepLearnt, learnText } from "@/server/repositories/learning";
import { textOf } from "@/server/repositories/readings";
import { handleFile } from "@/server/web/handle";

const query = object({
  idiom: string().max(64),
  family: string().trim().max(80),
  version: string().trim().max(16),
  keep: boolean().default(false),
});

/** Learns a release from the read-out of a freshly erased board; with `keep`, keeps it as a document. */
export async function POST(request: Request): Promise<Response> {
  return handleFile(request, "lead", 4_000_000, query, async (file, { idiom, family, version, keep }, account) => {
    const about = { ...(family ? { family } : {}), ...(version ? { version } : {}) };
    const learnt = await learnText(textOf(file), idiom, about);
    const kept = keep ? await keepLearnt(learnt, account.name) : undefined;
    return { ...learnt, ...(kept ? { kept } : {}) };
  });
}
