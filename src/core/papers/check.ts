import {
  PAPERS,
  README,
  READING,
  ROWS,
  SEALS,
  VISIT,
  type RowLine,
  type SealLine,
  type VisitFile,
} from "@/core/papers/archive";

/** What of the papers does not hold, in words. */
export interface PapersFault {
  readonly kind: "missing" | "changed" | "unsealed" | "chain" | "surplus" | "shape";
  readonly says: string;
}

export interface PapersReport {
  readonly faults: readonly PapersFault[];
  /** What they are of, as their sealed rows say. */
  readonly tag: string;
  readonly headline: string;
  readonly ended: "finished" | "stopped" | "open";
  readonly signed?: { readonly by: string; readonly at: string; readonly statement: string };
  readonly entries: number;
  readonly papers: number;
  /** Files that are there to be read: as they were packed, and without seals of their own. */
  readonly readings: number;
  readonly seals: { readonly first: number; readonly last: number; readonly sha256: string };
}

const decoder = new TextDecoder("utf-8", { fatal: true });
const SHA = /Sha"\s*:\s*"([0-9a-f]{64})"/g;
const MOST_FAULTS = 100;

/** SHA-256 (FIPS 180-4) in hex. */
async function sha256(bytes: Uint8Array): Promise<string> {
  const digest = await crypto.subtle.digest("SHA-256", new Uint8Array(bytes));
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
const hashText = (text: string) => sha256(new TextEncoder().encode(text));

/** Lines of JSON; one that is none, or has another shape, is a fault. */
function linesOf<T>(text: string | undefined, name: string, fits: (value: T) => boolean, tell: Tell): T[] {
  if (text === undefined) {
    tell("missing", `${name} is not there`);
    return [];
  }
  return text.split("\n").flatMap((line, i): T[] => {
    if (line === "") return [];
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

type Tell = (kind: PapersFault["kind"], says: string) => void;

const isSeal = (seal: SealLine) =>
  Number.isSafeInteger(seal.no) &&
  [seal.kind, seal.key, seal.at, seal.row, seal.before, seal.sha256].every((each) => typeof each === "string");
const isRow = (row: RowLine) => [row.kind, row.key, row.text].every((each) => typeof each === "string");

/** Each seal holds the hash of what it says and of the one before it; those of the range are all there. */
async function checkSeals(seals: readonly SealLine[], { first, last }: VisitFile, tell: Tell): Promise<void> {
  const byNo = new Map(seals.map((seal) => [seal.no, seal]));
  if (byNo.size !== seals.length) tell("chain", "A seal stands there twice");
  for (const seal of seals) {
    const { no, kind, key, at, row, before, sha256: own } = seal;
    if ((await hashText([before, no, kind, key, at, row].join("\n"))) !== own)
      tell("chain", `Seal ${no} (${kind} ${key}) is not what it says`);
    const next = byNo.get(no + 1);
    if (next && next.before !== own) tell("chain", `Seal ${no + 1} does not follow from seal ${no}`);
  }
  for (let no = first; no <= last; no++) if (!byNo.has(no)) return tell("chain", `Seal ${no} is not there`);
}

/** Each row is what its seal says. */
async function checkRows(rows: readonly RowLine[], seals: readonly SealLine[], tell: Tell): Promise<void> {
  const sealed = new Map(seals.map((seal) => [`${seal.kind} ${seal.key}`, seal.row]));
  const seen = new Set<string>();
  for (const { kind, key, text } of rows) {
    const name = `${kind} ${key}`;
    if (seen.has(name)) tell("surplus", `${name} stands there twice`);
    seen.add(name);
    const hash = sealed.get(name);
    if (hash === undefined) tell("unsealed", `${name} has no seal`);
    else if ((await hashText(text)) !== hash) tell("changed", `${name} was rewritten`);
  }
}

/** What a row's text says; nothing of one that cannot be read: that it was rewritten is told by its seal. */
function saidBy<T extends object>(text: string): Partial<T> {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === "object" && value !== null ? value : {};
  } catch {
    return {};
  }
}

const jobOf = (text: string): number | undefined => saidBy<{ job_id: number | null }>(text).job_id ?? undefined;

/** Every entry of the visit that the seals name is there: one that was taken out leaves its seal behind. */
function checkEntries(rows: readonly RowLine[], seals: readonly SealLine[], job: number, tell: Tell): void {
  const there = new Set(rows.map(({ kind, key }) => `${kind} ${key}`));
  for (const kind of ["jobs", "jobs-ended"])
    if (seals.some((seal) => seal.kind === kind && seal.key === String(job)) && !there.has(`${kind} ${job}`))
      tell("missing", `${kind} ${job} is not there`);
  const entries = rows.filter(({ kind }) => kind === "journal");
  for (const { key, text } of entries) if (jobOf(text) !== job) tell("surplus", `journal ${key} is of another visit`);
  const end = entries.map(({ text }) => entryOf(text)).find(({ kind }) => kind === "finished" || kind === "stopped");
  // visits from before that was written down do not say it
  if (end?.entries !== undefined && end.entries !== entries.length - 1)
    tell("missing", `The visit had ${end.entries + 1} entries; ${entries.length} are there`);
  if (!end && seals.some((seal) => seal.kind === "jobs-ended" && seal.key === String(job)))
    tell("missing", "The entry that ended the visit is not there");
}

const entryOf = (text: string): Partial<EntryRow["entry"]> => saidBy<EntryRow>(text).entry ?? {};

interface EntryRow {
  readonly at: string;
  readonly account?: string | null;
  readonly entry: {
    readonly kind: string;
    readonly headline?: string;
    readonly statement?: string;
    readonly person?: string;
    readonly entries?: number;
  };
}

/**
 * Holds a visit's papers against their own hashes: seals against each other, rows against their seals, papers against the
 * names that the rows give them. Needs no database. Whether the chain is the workshop's own shows its last seal.
 */
export async function checkPapers(files: ReadonlyMap<string, Uint8Array>): Promise<PapersReport> {
  const faults: PapersFault[] = [];
  const tell: Tell = (kind, says) => {
    if (faults.length < MOST_FAULTS) faults.push({ kind, says });
  };
  const text = (name: string): string | undefined => {
    const bytes = files.get(name);
    try {
      return bytes && decoder.decode(bytes);
    } catch {
      return undefined;
    }
  };
  const [visit] = linesOf<VisitFile>(
    text(VISIT)?.replaceAll("\n", " "),
    VISIT,
    ({ job, first, last, reading = {} }) =>
      [job, first, last].every((n) => Number.isSafeInteger(n)) &&
      last - first < 5_000_000 &&
      Object.values(reading).every((sha) => typeof sha === "string"),
    tell,
  );
  const about: VisitFile = visit ?? {
    ...{ format: "fresh-start-visit", version: 1, job: 0, tag: "", headline: "", first: 1, last: 0 },
  };
  const seals = linesOf<SealLine>(text(SEALS), SEALS, isSeal, tell);
  const rows = linesOf<RowLine>(text(ROWS), ROWS, isRow, tell);
  await checkSeals(seals, about, tell);
  await checkRows(rows, seals, tell);
  checkEntries(rows, seals, about.job, tell);
  const named = new Set(
    rows.flatMap(({ kind, text: row }) =>
      kind === "backups"
        ? [saidBy<{ sha256: string }>(row).sha256 ?? ""]
        : [...row.matchAll(SHA)].map(([, sha = ""]) => sha),
    ),
  );
  for (const sha of named) {
    const bytes = files.get(`${PAPERS}${sha}`);
    if (!bytes) tell("missing", `The paper ${sha} is not there`);
    else if ((await sha256(bytes)) !== sha) tell("changed", `The paper ${sha} was changed`);
  }
  const readings = Object.entries(about.reading ?? {});
  for (const [name, sha] of readings) {
    const bytes = files.get(`${READING}${name}`);
    if (!bytes) tell("missing", `${READING}${name} is not there`);
    else if ((await sha256(bytes)) !== sha) tell("changed", `${READING}${name} is not as it was packed`);
  }
  const known = new Set([
    ...readings.map(([name]) => `${READING}${name}`),
    VISIT,
    SEALS,
    ROWS,
    README,
    ...[...named].map((sha) => `${PAPERS}${sha}`),
  ]);
  for (const name of files.keys())
    if (!known.has(name) && !name.endsWith("/")) tell("surplus", `${name} belongs to nothing that is sealed`);
  return { faults, ...told(rows, seals, about), papers: named.size, readings: readings.length };
}

/** What the rows say the visit was. */
function told(
  rows: readonly RowLine[],
  seals: readonly SealLine[],
  { job, tag, headline, first, last }: VisitFile,
): Omit<PapersReport, "faults" | "papers" | "readings"> {
  const entries = rows.filter(({ kind }) => kind === "journal").map(({ text }) => saidBy<EntryRow>(text));
  const ended = rows.find(({ kind, key }) => kind === "jobs-ended" && key === String(job));
  const state = ended && saidBy<{ state: string; headline: string }>(ended.text);
  const head = entries.find(({ entry }) => entry?.kind === "ordered")?.entry;
  const signed = entries.find(({ entry }) => entry?.kind === "signed");
  // of the aircraft's own: one that it was set up from is another's
  const backup = rows
    .filter(({ kind }) => kind === "backups")
    .map(({ text }) => saidBy<{ name: string; job_id: number | null }>(text))
    .find((each) => each.job_id === job);
  const lastSeal = seals.find(({ no }) => no === last);
  return {
    tag: backup?.name?.split(" ")[0] ?? tag,
    headline: state?.headline ?? head?.headline ?? headline,
    ended: state?.state === "finished" || state?.state === "stopped" ? state.state : "open",
    ...(signed
      ? {
          signed: {
            by: signed.entry?.person ?? signed.account ?? "",
            at: signed.at ?? "",
            statement: signed.entry?.statement ?? "",
          },
        }
      : {}),
    entries: entries.length,
    seals: { first, last, sha256: lastSeal?.sha256 ?? "" },
  };
}

/** What papers that hold are, in words. */
export function papersSentence({
  tag,
  headline,
  ended,
  signed,
  entries,
  papers,
  readings,
  seals,
}: PapersReport): string {
  const end =
    ended === "finished" && signed
      ? `signed off by ${signed.by} on ${signed.at.slice(0, 10)}`
      : ended === "open"
        ? "not ended when they were made"
        : ended;
  return `Whole: ${tag}, ${headline}, ${end}. ${entries} entries and ${papers} files against their hashes, seals ${seals.first} to ${seals.last}; the last is ${seals.sha256}${readings === 0 ? "" : `. ${readings} files to read are as they were packed, and carry no seals`}`;
}
