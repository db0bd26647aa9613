import type { RowLine, SealLine } from "@/core/papers/archive";
import type { Tell } from "@/core/papers/fault";
import { hashText } from "@/core/papers/hash";

/** A seal by its number, with its own hash. */
export interface SealName {
  readonly no: number;
  readonly sha256: string;
}

/** What a visit was, in one statement. When it ends it is itself sealed, as the last of the visit. */
export interface VisitStatement {
  readonly job: number;
  readonly tag: string;
  readonly headline: string;
  /** Kind of its goal. */
  readonly goal: string;
  readonly ended: "finished" | "stopped" | "open";
  /** Who signed it off, under which account, when, and what they put their name under. */
  readonly signed?: { readonly by: string; readonly account: string; readonly at: string; readonly statement: string };
  /** The visit's first seal, and its last before that of this statement. */
  readonly first: SealName;
  readonly last: SealName;
  /** All that is kept of the visit, as “kind key”, in order: nothing else stands in its papers. */
  readonly rows: readonly string[];
  /** A backup from before the visit, which it was made from, by the hash of its row. */
  readonly source?: { readonly key: string; readonly row: string };
}

export const STATEMENT = "visit_statements";
export const nameOf = ({ kind, key }: { readonly kind: string; readonly key: string }): string => `${kind} ${key}`;

/** What a row's text says; nothing of one that cannot be read: that it was rewritten is told by its seal. */
export function saidBy<T extends object>(text: string): Partial<T> {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === "object" && value !== null ? value : {};
  } catch {
    return {};
  }
}

export interface EntryRow {
  readonly at: string;
  readonly job_id: number | null;
  readonly account?: string | null;
  readonly entry: {
    readonly kind: string;
    readonly headline?: string;
    readonly statement?: string;
    readonly person?: string;
    readonly entries?: number;
    /** Of what was planned anew. */
    readonly steps?: readonly { readonly id?: string }[];
    readonly data?: { readonly backupId?: number; readonly readBackId?: number };
  };
}

export const entriesOf = (rows: readonly RowLine[]): Partial<EntryRow>[] =>
  rows.filter(({ kind }) => kind === "journal").map(({ text }) => saidBy<EntryRow>(text));

/** Who signed a visit off, as its entries say. */
export function signedBy(entries: readonly Partial<EntryRow>[]): VisitStatement["signed"] {
  const signed = entries.find(({ entry }) => entry?.kind === "signed");
  if (!signed) return undefined;
  const { account, at = "", entry } = signed;
  return { by: entry?.person ?? account ?? "", account: account ?? "", at, statement: entry?.statement ?? "" };
}

/** The kinds of rows that a visit has, and how many of each it must have. */
const MUST: readonly (readonly [kind: string, least: number])[] = [
  ["jobs", 1],
  ["journal", 1],
];

/** Each row is named by the statement and is what the chain, or for a source the statement, says that it is. */
export async function checkRows(
  rows: readonly RowLine[],
  seals: readonly SealLine[],
  statement: VisitStatement,
  tell: Tell,
): Promise<void> {
  const sealed = new Map(seals.map((seal) => [nameOf(seal), seal.row]));
  const { source, job, ended } = statement;
  const wanted = new Set([
    ...statement.rows,
    ...(source ? [`backups ${source.key}`] : []),
    ...(ended === "open" ? [] : [`${STATEMENT} ${job}`]),
  ]);
  const seen = new Set<string>();
  for (const row of rows) {
    const name = nameOf(row);
    if (seen.has(name)) tell("surplus", `${name} stands there twice`);
    seen.add(name);
    if (!wanted.has(name)) tell("surplus", `${name} is not of this visit, by its statement`);
    const hash = sealed.get(name) ?? (source && name === `backups ${source.key}` ? source.row : undefined);
    if (hash === undefined) tell("unsealed", `${name} has no seal`);
    else if ((await hashText(row.text)) !== hash) tell("changed", `${name} was rewritten`);
  }
  for (const name of wanted) if (!seen.has(name)) tell("missing", `${name} is not there`);
  for (const [kind, least] of MUST)
    if (rows.filter((row) => row.kind === kind).length < least) tell("missing", `No row of the kind ${kind} is there`);
}

const SIGN_OFF = "sign-off";

/** Whether a visit ends with somebody's signature, by its steps as they were ordered and planned; what only read changed nothing. */
function owesSignature(rows: readonly RowLine[], entries: readonly Partial<EntryRow>[]): boolean {
  const order = rows.find(({ kind }) => kind === "jobs");
  const steps = order && saidBy<{ readonly steps: readonly { readonly id?: string }[] }>(order.text).steps;
  // whoever has taken them away, or never said them, is not let off
  if (!(steps instanceof Array)) return true;
  const planned = entries.flatMap(({ entry }) => entry?.steps ?? []);
  return [...steps, ...planned].some(({ id }) => id === SIGN_OFF);
}

/** What the rows say agrees with what the statement says of them. */
export function checkStatement(
  rows: readonly RowLine[],
  seals: readonly SealLine[],
  statement: VisitStatement,
  tell: Tell,
): void {
  const { job, ended, first, last, signed, goal, headline } = statement;
  const says = (what: string) => tell("statement", `The statement of the visit and its rows disagree: ${what}`);
  const entries = entriesOf(rows);
  for (const { key, text } of rows.filter(({ kind }) => kind === "journal"))
    if (saidBy<EntryRow>(text).job_id !== job) tell("surplus", `journal ${key} is of another visit`);
  const order = rows.find(({ kind }) => kind === "jobs");
  if (order && order.key !== String(job)) says("which visit it is");
  if (order && saidBy<{ goal: { kind: string } }>(order.text).goal?.kind !== goal) says("what it was for");
  const end = rows.find(({ kind }) => kind === "jobs-ended");
  const state = end && saidBy<{ state: string; headline: string }>(end.text);
  if ((state?.state ?? "open") !== ended) says("how it ended");
  if (state && state.headline !== headline) says("what it was called");
  const found = signedBy(entries);
  if (canonical(found) !== canonical(signed)) says("who signed it");
  if (entries.filter(({ entry }) => entry?.kind === "signed").length > 1) says("it was signed more than once");
  const unsigned = ended === "finished" && signed === undefined;
  if (unsigned ? owesSignature(rows, entries) : signed !== undefined && ended !== "finished")
    says("only what is signed is finished");
  const closing = entries
    .map(({ entry }) => entry)
    .filter((entry) => entry?.kind === "finished" || entry?.kind === "stopped");
  if (ended !== "open" && (closing.length !== 1 || closing[0]?.kind !== ended)) says("the entry of its end");
  if (closing[0]?.entries !== undefined && closing[0].entries !== entries.length - 1)
    tell("missing", `The visit had ${closing[0].entries + 1} entries; ${entries.length} are there`);
  for (const { entry } of entries)
    for (const id of [entry?.data?.backupId, entry?.data?.readBackId])
      if (id !== undefined && !rows.some((row) => row.kind === "backups" && row.key === String(id)))
        tell("missing", `backups ${id}, which an entry names, is not there`);
  const byNo = new Map(seals.map((seal) => [seal.no, seal]));
  if (byNo.get(first.no)?.sha256 !== first.sha256) says("which seal is its first");
  if (byNo.get(last.no)?.sha256 !== last.sha256) says("which seal is its last");
  const own = rows.find(({ kind }) => kind === STATEMENT);
  const kept = own && saidBy<{ says: VisitStatement }>(own.text).says;
  if (ended !== "open" && canonical(kept) !== canonical(statement))
    says("what was sealed at its end was signed otherwise");
  const edges = seals.map(({ no }) => no);
  const lastNo = own ? seals.find((seal) => nameOf(seal) === nameOf(own))?.no : last.no;
  if (Math.min(...edges) !== first.no || Math.max(...edges) !== lastNo)
    tell("chain", "The seals do not go from the first of the visit to its last");
}

/** The same for the same values, in whatever order a database gives them. */
export function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(",")}]`;
  if (typeof value !== "object" || value === null) return value === undefined ? "null" : JSON.stringify(value);
  const fields = Object.entries(value).filter(([, each]) => each !== undefined);
  return `{${fields
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, each]) => `${JSON.stringify(name)}:${canonical(each)}`)
    .join(",")}}`;
}
