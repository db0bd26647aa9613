import { LRUCache } from "lru-cache";
import { vectorOf, type Vector } from "@/core/compare";
import { recogniseRaw, textOfBytes, type ReadAs, type Recital, type Recognised } from "@/core/idiom";
import { releaseById, type Catalogue } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { getBlob } from "@/server/repositories/blobs";
import { catalogueStamp, loadCatalogue } from "@/server/repositories/catalogue";
import { getDb } from "@/server/db";
import { first, list } from "@/server/sql";

/** The text of bytes; refuses what is broken all over. */
export const textOf = (raw: Uint8Array): string => valueOf(textOfBytes(raw));

/** Reads bytes as text and as read-outs of whichever idiom understands them. Problems name the place. */
export async function recogniseBytes(raw: Uint8Array, catalogue?: Catalogue, saidToBe?: ToldAs): Promise<Recognised> {
  const whole = catalogue ?? (await loadCatalogue());
  return valueOf(recogniseRaw(raw, whole, saidToBe && readAs(saidToBe, whole)));
}

/** What a person says that a text is. */
export interface ToldAs {
  readonly releaseId: string;
  readonly extent?: "all" | "moved";
}

function readAs({ releaseId, extent }: ToldAs, catalogue: Catalogue): ReadAs {
  return { release: valueOf(releaseById(catalogue, releaseId)), ...(extent === undefined ? {} : { extent }) };
}

/** What somebody said that stored bytes are, last. */
export async function toldOf(sha256: string): Promise<ToldAs | undefined> {
  const row = await first(getDb().ReadAsRow, { where: { sha256 }, order: [["id", "desc"]] });
  return row && { releaseId: row.release_id, ...(row.extent === null ? {} : { extent: row.extent }) };
}

/** Raised when texts are read otherwise than before: what was derived by an older reader is derived again. */
const READER = "2";
const readingStamp = async () => {
  const newest = await first(getDb().ReadAsRow, { attributes: ["id"], order: [["id", "desc"]] });
  return `${READER}/${await catalogueStamp()}/${newest?.id ?? 0}`;
};

const holder = globalThis as typeof globalThis & {
  freshStartReadings?: WeakMap<Catalogue, LRUCache<string, Recital>>;
  freshStartVectors?: { readonly stamp: string; readonly bySha: Map<string, Vector> };
};

/** Readings by one catalogue that are kept in memory: those used last. */
const KEPT = 300;

/** The read-out of stored bytes by the newest documents, or by those given. It is kept for as long as they are in use. */
export async function readingOf(sha256: string, by?: Catalogue): Promise<Recital> {
  const catalogue = by ?? (await loadCatalogue());
  const all = (holder.freshStartReadings ??= new WeakMap());
  const kept = all.get(catalogue) ?? new LRUCache({ max: KEPT });
  all.set(catalogue, kept);
  const saidToBe = await toldOf(sha256);
  const name = `${sha256} ${saidToBe?.releaseId ?? ""} ${saidToBe?.extent ?? ""}`;
  const known = kept.get(name);
  if (known) return known;
  const { recital } = await recogniseBytes(await getBlob(sha256), catalogue, saidToBe);
  kept.set(name, recital);
  return recital;
}

/** Compact forms kept in memory: about 10 KB each. */
const KEPT_VECTORS = 5000;

/**
 * The compact forms of many texts: from memory, else as they are stored; those that were never read, or by an older
 * catalogue, are read and stored now.
 */
export async function vectorsOf(hashes: readonly string[]): Promise<Map<string, Vector>> {
  const stamp = await readingStamp();
  if (holder.freshStartVectors?.stamp !== stamp) holder.freshStartVectors = { stamp, bySha: new Map() };
  const { bySha } = holder.freshStartVectors;
  const found = new Map<string, Vector>();
  const wanted: string[] = [];
  for (const sha256 of new Set(hashes)) {
    const known = bySha.get(sha256);
    if (known) found.set(sha256, known);
    else wanted.push(sha256);
  }
  if (wanted.length === 0) return found;
  const stored = await list(getDb().ReadText, {
    where: { stamp, sha256: wanted },
    attributes: ["sha256", "vector"],
  });
  for (const { sha256, vector } of stored) found.set(sha256, vector);
  for (const sha256 of wanted) if (!found.has(sha256)) found.set(sha256, await storeVector(sha256, stamp));
  for (const sha256 of wanted) {
    const vector = found.get(sha256);
    if (vector && bySha.size < KEPT_VECTORS) bySha.set(sha256, vector);
  }
  return found;
}

async function storeVector(sha256: string, stamp: string): Promise<Vector> {
  const { configuration, release } = await readingOf(sha256);
  const vector = vectorOf(configuration, release);
  await getDb().ReadText.upsert({ sha256, stamp, vector });
  return vector;
}
