import { PAPERS, README, READING, ROWS, SEALS, type Archive, type RowLine, type SealLine } from "@/core/papers/archive";
import { openBag, SIGNATURE } from "@/core/papers/bag";
import type { PapersFault, Tell } from "@/core/papers/fault";
import { hashText, sha256 } from "@/core/papers/hash";
import { textOf } from "@/core/papers/text";
import { checkSignature } from "@/core/papers/signature";
import {
  checkRows,
  checkStatement,
  entriesOf,
  nameOf,
  saidBy,
  type SealName,
  type VisitStatement,
} from "@/core/papers/statement";

/** What whoever checks has by other ways than the archive: thumbprints of keys, seals that somebody wrote down. */
export interface Known {
  readonly keys?: readonly string[];
  readonly seals?: readonly SealName[];
}

export interface PapersReport {
  readonly faults: readonly PapersFault[];
  readonly statement: VisitStatement;
  readonly entries: number;
  /** Papers that the rows name by their hash. */
  readonly papers: number;
  /** Files that are there to be read. */
  readonly readings: number;
  readonly last: SealName;
  /** Thumbprint of the key that signed (RFC 7638). */
  readonly key: string;
  /** By what it is known to come from the workshop; undefined: it is whole in itself, and whose it is was held against nothing. */
  readonly origin?: "key" | "seal";
}

const SHA = /Sha"\s*:\s*"([0-9a-f]{64})"/g;
const MOST_FAULTS = 100;
const MOST_SEALS = 5_000_000;

const NOTHING: SealName = { no: 0, sha256: "" };
const NO_STATEMENT: VisitStatement = {
  ...{ job: 0, tag: "", headline: "", goal: "", ended: "open", first: NOTHING, last: NOTHING, rows: [] },
};

/** Lines of JSON, each ended; one that is none, or has another shape, is a fault. */
function linesOf<T>(content: Uint8Array | undefined, name: string, fits: (value: T) => boolean, tell: Tell): T[] {
  const text = textOf(content, name, tell) ?? "";
  return text.split("\n").flatMap((line, i, all): T[] => {
    if (line === "" && i === all.length - 1) return [];
    try {
      const value = JSON.parse(line) as T;
      if (typeof value === "object" && value !== null && fits(value)) return [value];
    } catch {
      // said below, as what has another shape is
    }
    tell("shape", `${name}, line ${i + 1}, is not what it should be`);
    return [];
  });
}

const isText = (...values: unknown[]) => values.every((each) => typeof each === "string");
const isSealName = (value: unknown): value is SealName =>
  typeof value === "object" &&
  value !== null &&
  Number.isSafeInteger((value as SealName).no) &&
  isText((value as SealName).sha256);
const isSeal = (seal: SealLine) =>
  Number.isSafeInteger(seal.no) && isText(seal.kind, seal.key, seal.at, seal.row, seal.before, seal.sha256);
const isRow = (row: RowLine) => isText(row.kind, row.key, row.text);

function isStatement(value: unknown): value is VisitStatement {
  const { job, tag, headline, goal, ended, first, last, rows, source, signed } = (value ?? {}) as VisitStatement;
  return (
    Number.isSafeInteger(job) &&
    isText(tag, headline, goal) &&
    ["finished", "stopped", "open"].includes(ended) &&
    isSealName(first) &&
    isSealName(last) &&
    Array.isArray(rows) &&
    rows.length <= MOST_SEALS &&
    rows.every((each) => typeof each === "string") &&
    (source === undefined || isText(source.key, source.row)) &&
    (signed === undefined || isText(signed.by, signed.account, signed.at, signed.statement))
  );
}

/** What may change is sealed each time that it does, under a kind of this ending; everything else once. */
const STATE = "-is";

/** The seals are one unbroken chain, with nothing beside it, and what happened is sealed once. */
async function checkSeals(seals: readonly SealLine[], known: readonly SealName[], tell: Tell): Promise<boolean> {
  const of = new Set<string>();
  for (const [i, seal] of seals.entries()) {
    const { no, kind, key, at, row, before, sha256: own } = seal;
    const last = seals[i - 1];
    if (last && (no !== last.no + 1 || before !== last.sha256))
      tell("chain", `Seal ${no} does not follow from seal ${last.no}`);
    if ((await hashText([before, no, kind, key, at, row].join("\n"))) !== own)
      tell("chain", `Seal ${no} (${kind} ${key}) is not what it says`);
    if (of.has(nameOf(seal)) && !kind.endsWith(STATE)) tell("chain", `${nameOf(seal)} is sealed twice`);
    of.add(nameOf(seal));
  }
  const byNo = new Map(known.map((each) => [each.no, each.sha256]));
  const met = seals.filter(({ no }) => byNo.has(no));
  for (const { no, sha256: own } of met)
    if (byNo.get(no) !== own) tell("chain", `Seal ${no} is another than the one that was written down`);
  return met.length > 0 && met.every(({ no, sha256: own }) => byNo.get(no) === own);
}

/** The papers that the rows name are there and are what their names say; nothing else stands beside them. */
async function checkNamed(
  rows: readonly RowLine[],
  payload: ReadonlyMap<string, Uint8Array>,
  tell: Tell,
): Promise<number> {
  const named = new Set(
    rows.flatMap(({ kind, text }) =>
      kind === "backups"
        ? [saidBy<{ sha256: string }>(text).sha256 ?? ""]
        : [...text.matchAll(SHA)].map(([, sha = ""]) => sha),
    ),
  );
  for (const sha of named) {
    const bytes = payload.get(`${PAPERS}${sha}`);
    if (!bytes) tell("missing", `The paper ${sha} is not there`);
    else if ((await sha256(bytes)) !== sha) tell("changed", `The paper ${sha} was changed`);
  }
  for (const name of payload.keys()) {
    const isOurs =
      [SEALS, ROWS, README].includes(name) ||
      name.startsWith(READING) ||
      (name.startsWith(PAPERS) && named.has(name.slice(PAPERS.length)));
    if (!isOurs) tell("surplus", `${name} belongs to nothing that is sealed`);
  }
  return named.size;
}

/**
 * Holds a visit's papers against themselves: the archive against its lists, the lists against their signature, what is signed
 * against what was sealed, rows against their seals, papers against the names that rows give them. Needs no database. Whose
 * they are shows a key or a seal that is known by another way.
 */
export async function checkPapers({ files, asPacked }: Archive, known: Known = {}): Promise<PapersReport> {
  const faults: PapersFault[] = [];
  const tell: Tell = (kind, says) => {
    if (faults.length < MOST_FAULTS) faults.push({ kind, says });
  };
  const { payload, signedHash } = await openBag(files, tell);
  const signature = await checkSignature(files.get(SIGNATURE), signedHash, tell);
  if (signature.key !== "" && !isStatement(signature.statement)) tell("shape", "No statement of a visit was signed");
  const statement = isStatement(signature.statement) ? signature.statement : NO_STATEMENT;
  const seals = linesOf<SealLine>(payload.get(SEALS), SEALS, isSeal, tell);
  const rows = linesOf<RowLine>(payload.get(ROWS), ROWS, isRow, tell);
  const witnessed = await checkSeals(seals, known.seals ?? [], tell);
  await checkRows(rows, seals, statement, tell);
  checkStatement(rows, seals, statement, tell);
  const papers = await checkNamed(rows, payload, tell);
  if (!asPacked)
    tell("surplus", "The archive is not as the workshop packs it: something stands in it beside its files");
  if (known.keys !== undefined && signature.key !== "" && !known.keys.includes(signature.key))
    tell("signature", `The key that signed them is none of the workshop’s: ${signature.key}`);
  const byKey = known.keys?.includes(signature.key) ?? false;
  const last = seals.at(-1);
  return {
    faults,
    statement,
    entries: entriesOf(rows).length,
    papers,
    readings: [...payload.keys()].filter((name) => name.startsWith(READING)).length,
    last: last ? { no: last.no, sha256: last.sha256 } : NOTHING,
    key: signature.key,
    ...(byKey ? { origin: "key" } : witnessed ? { origin: "seal" } : {}),
  };
}

/** What papers that hold are, in words. */
export function papersSentence({ statement, entries, papers, readings, last, key, origin }: PapersReport): string {
  const { tag, headline, ended, signed, first } = statement;
  const end =
    ended === "finished" && signed
      ? `signed off by ${signed.by} on ${signed.at.slice(0, 10)}`
      : ended === "open"
        ? "not ended when they were made"
        : ended;
  const whose =
    origin === "key"
      ? `Signed with the workshop’s key ${key}`
      : origin === "seal"
        ? `Its chain holds a seal that was written down; signed with the key ${key}`
        : `Whole in itself, signed with the key ${key}: whether that is the workshop’s was held against nothing. Compare it with the page “Copies and the record”, or give a seal that was written down`;
  return `Whole: ${tag}, ${headline}, ${end}. ${entries} entries, ${papers} papers and ${readings} files to read, seals ${first.no} to ${last.no}; the last is ${last.sha256}. ${whose}.`;
}
