import { ProblemError } from "@/core/problem";
import { fileBackup, knownCopy } from "@/server/repositories/backups";
import type { ToldAs } from "@/server/repositories/readings";
import { aircraftByTag } from "@/server/repositories/fleet";
import { entriesOf } from "@/server/repositories/intake";

/** A read-out that somebody brings: a text, or one file of an archive. */
export interface Brought {
  readonly file: Uint8Array;
  readonly tag: string;
  /** Which file of an archive. */
  readonly entry: string | undefined;
  readonly account: string;
  readonly readAs?: ToldAs | undefined;
}

/** Files it with an aircraft. The same bytes are filed once. */
export async function fileBroughtReadout({
  file,
  tag,
  entry,
  account,
  readAs,
}: Brought): Promise<{ id: number; verdict: string }> {
  const aircraft = await aircraftByTag(tag);
  if (!aircraft) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
  const raw = entry === undefined ? file : (await entriesOf(file, entry)).find((each) => each.name === entry)?.bytes;
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
    account,
    at: new Date().toISOString(),
    readAs,
  });
  return { id, verdict: recital.completeness.verdict };
}
