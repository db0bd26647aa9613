import { strToU8 } from "fflate";
import {
  fillBag,
  nameOf,
  packArchive,
  PAPERS,
  README,
  READING,
  ROWS,
  SEALS,
  SIGNATURE,
  TAG_MANIFEST,
  type RowLine,
  type VisitStatement,
} from "@/core/papers";
import { ProblemError } from "@/core/problem";
import { getBlob, isSpoilt, sha256 } from "@/server/repositories/blobs";
import { jobById } from "@/server/repositories/jobs";
import {
  ensureStatement,
  rowsOfVisit,
  sealOf,
  sealsBetween,
  sourceRow,
  statementRow,
  stateVisit,
} from "@/server/repositories/visit-statements";
import { signPapers } from "@/server/signing";

const HOW = (headline: string, tag: string) => `The papers of a visit: ${headline}, ${tag}.

to read/     the visit in words (visit.html), plan, decisions and proof, script and read-outs: for people
rows.jsonl   what was kept of it, each line as it was sealed
seals.jsonl  the seals, from the first of the visit to its last, each over the one before
papers/      the files that the rows name, each called by its SHA-256

This is a bag (RFC 8493). Every file is named with its SHA-256 in manifest-sha256.txt:
  sha256sum -c manifest-sha256.txt tagmanifest-sha256.txt
signature.jws is a JWS (RFC 7515) with Ed25519 (RFC 8037) over a statement of the visit and the hash of
tagmanifest-sha256.txt, and so over all of it. Its head holds the public key; compare the thumbprint with the one that the
workshop shows under Copies and the record.

bin/verify with this file, or the page “Check papers”, checks all of that, and the seals, without the workshop.
`;

const jsonl = (lines: readonly object[]) => strToU8(lines.map((line) => `${JSON.stringify(line)}\n`).join(""));

/** Names of papers in a row: whatever an entry calls by its hash. */
const namedIn = ({ kind, text }: RowLine): string[] =>
  kind === "backups"
    ? [(JSON.parse(text) as { sha256: string }).sha256]
    : [...text.matchAll(/Sha"\s*:\s*"([0-9a-f]{64})"/g)].map(([, sha = ""]) => sha);

async function stated(jobId: number): Promise<{ kept: RowLine[]; statement: VisitStatement; last: number }> {
  await ensureStatement(jobId);
  const kept = await rowsOfVisit(jobId);
  const [source, sealed] = [await sourceRow(jobId), await statementRow(jobId)];
  const statement = sealed ? (JSON.parse(sealed.text) as { says: VisitStatement }).says : await stateVisit(jobId, kept);
  if (!statement) throw new ProblemError({ code: "visit-unsealed", message: "Nothing of this visit is sealed yet" });
  const own = sealed && (await sealOf(sealed.kind, sealed.key));
  // what came under the visit's number after it was sealed is none of it
  const named = new Set(statement.rows);
  return {
    kept: [...kept.filter((row) => named.has(nameOf(row))), ...(source ? [source] : []), ...(sealed ? [sealed] : [])],
    statement,
    last: own?.no ?? statement.last.no,
  };
}

/**
 * A visit's papers as an archive that can be checked without this database: a signed bag. A paper that is damaged here is
 * left out, and missed. `reading`: files for people, by their names.
 */
export async function visitPapers(
  jobId: number,
  reading: Readonly<Record<string, Uint8Array>> = {},
): Promise<{ readonly name: string; readonly bytes: Uint8Array }> {
  const job = await jobById(jobId);
  if (!job) throw new ProblemError({ code: "job-none", message: "There is no such job" });
  const { kept, statement, last } = await stated(jobId);
  const papers = new Map<string, Uint8Array>();
  for (const sha of new Set(kept.flatMap(namedIn))) {
    const bytes = await getBlob(sha).catch((error: unknown) => {
      if (isSpoilt(error)) return undefined;
      throw error;
    });
    if (bytes) papers.set(`${PAPERS}${sha}`, bytes);
  }
  const { tag, headline } = job;
  const bag = await fillBag(
    new Map([
      [README, strToU8(HOW(headline, tag))],
      [ROWS, jsonl(kept)],
      [SEALS, jsonl(await sealsBetween(statement.first.no, last))],
      ...papers,
      ...Object.entries(reading).map(([name, bytes]) => [`${READING}${name}`, bytes] as const),
    ]),
    `${tag}, visit ${jobId}`,
  );
  const files = sha256(bag.get(TAG_MANIFEST) ?? new Uint8Array());
  bag.set(SIGNATURE, strToU8(await signPapers({ statement, files })));
  return { name: `${tag} visit ${jobId} papers.zip`, bytes: packArchive(`${tag} visit ${jobId}`, bag) };
}
