import type { Transaction } from "sequelize";
import { keptCatalogue, type Catalogue, type CatalogueDocument, type DocumentKind } from "@/core/catalog";
import { problemOf, valueOf, type Problem } from "@/core/problem";
import { readDocumentOnce } from "@/server/documents-read";
import { rows } from "@/server/sql";

/** One version of a document, as it is kept. */
export interface KeptDocument {
  readonly id: number;
  readonly kind: DocumentKind;
  readonly document_id: string;
  readonly version: number;
  readonly sha256: string;
  readonly text: string;
  /** The same for all that came in together. */
  readonly imported_at: Date;
}

/** A version with which the catalogue does not hold together; the one before it is used in its place. */
export interface AsideDocument {
  readonly id: number;
  readonly kind: DocumentKind;
  readonly documentId: string;
  readonly version: number;
  readonly problem: Problem;
}

export interface Usable {
  readonly catalogue: Catalogue;
  /** The newest version of each document that can be used. */
  readonly current: readonly (KeptDocument & { readonly body: CatalogueDocument })[];
  readonly aside: readonly AsideDocument[];
}

/** More than so many at once are no bad documents, but a program that cannot read its catalogue. */
const MOST_ASIDE = 20;

function newest(documents: readonly KeptDocument[]): KeptDocument[] {
  const byName = new Map<string, KeptDocument>();
  for (const each of documents) {
    const name = `${each.kind} ${each.document_id}`;
    if (each.version >= (byName.get(name)?.version ?? 0)) byName.set(name, each);
  }
  return [...byName.values()];
}

type Built =
  { readonly ok: true; readonly usable: Omit<Usable, "aside"> } | { readonly ok: false; readonly problem: Problem };

function tryBuild(documents: readonly KeptDocument[]): Built {
  try {
    const current = newest(documents).map((each) => ({ ...each, body: valueOf(readDocumentOnce(each.text)) }));
    return { ok: true, usable: { catalogue: valueOf(keptCatalogue(current.map(({ body }) => body))), current } };
  } catch (error) {
    return { ok: false, problem: problemOf(error) };
  }
}

/** Documents by when they came in. */
function deliveries(documents: readonly KeptDocument[]): KeptDocument[][] {
  const byTime = new Map<number, KeptDocument[]>();
  for (const each of documents) {
    const at = each.imported_at.getTime();
    byTime.set(at, [...(byTime.get(at) ?? []), each]);
  }
  return [...byTime.values()];
}

/** What spoils a delivery: one document without which it holds, or all of it. */
function culpritsOf(before: readonly KeptDocument[], delivery: readonly KeptDocument[]): readonly KeptDocument[] {
  if (delivery.length === 1) return delivery;
  const unread = delivery.filter((each) => !readDocumentOnce(each.text).ok);
  if (unread.length > 0) return unread;
  const single = delivery.find((each) => tryBuild([...before, ...delivery.filter((other) => other !== each)]).ok);
  return single ? [single] : delivery;
}

/**
 * Documents came in one delivery after the other, and each time the whole held together. Where it does not any more,
 * because one was damaged or a later program asks for more, the first delivery is looked for from which on it does not;
 * what of it is to blame is set aside, and the rest tried again. Bisection: a few builds for each.
 */
export function usableOf(documents: readonly KeptDocument[]): Usable {
  const aside: AsideDocument[] = [];
  let left = deliveries(documents);
  for (;;) {
    const whole = tryBuild(left.flat());
    if (whole.ok) {
      const { current } = whole.usable;
      // one that a later version has replaced is nobody's trouble any more
      const replaced = ({ kind, documentId, version }: AsideDocument) =>
        current.some((each) => each.kind === kind && each.document_id === documentId && each.version > version);
      return { ...whole.usable, aside: aside.filter((each) => !replaced(each)) };
    }
    let [good, bad] = [0, left.length];
    let { problem } = whole;
    while (bad - good > 1) {
      const middle = Math.floor((good + bad) / 2);
      const part = tryBuild(left.slice(0, middle).flat());
      if (part.ok) good = middle;
      else [bad, problem] = [middle, part.problem];
    }
    const culprits = culpritsOf(left.slice(0, good).flat(), left[bad - 1] ?? []);
    if (culprits.length === 0 || aside.length > MOST_ASIDE) throw new Error(problem.message, { cause: problem });
    for (const { id, kind, document_id: documentId, version } of culprits)
      aside.push({ id, kind, documentId, version, problem });
    left = left
      .map((delivery) => delivery.filter((each) => !culprits.includes(each)))
      .filter((each) => each.length > 0);
  }
}

const COLUMNS = "id, kind, document_id, version, sha256, text, imported_at";
/** Documents that were withdrawn are kept, and not used. */
const IN_USE = "(kind, document_id) not in (select kind, document_id from withdrawn_documents)";
const CURRENT = `select distinct on (kind, document_id) ${COLUMNS} from catalogue_documents where ${IN_USE} order by kind, document_id, version desc`;

/** What of the documents on file can be used: mostly the newest version of each; others are looked at only when it has to be. */
export async function readUsable(transaction?: Transaction): Promise<Usable> {
  const current = tryBuild(await rows<KeptDocument>(CURRENT, [], transaction));
  if (current.ok) return { ...current.usable, aside: [] };
  return usableOf(
    await rows<KeptDocument>(`select ${COLUMNS} from catalogue_documents where ${IN_USE} order by id`, [], transaction),
  );
}
