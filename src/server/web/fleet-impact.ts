import type { Catalogue } from "@/core/catalog";
import { readOutside } from "@/server/outside/pool";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { impactOn, type ReleaseImpact } from "@/server/repositories/impact";
import { getDb } from "@/server/db";

/** A thousand aircraft take a few seconds. */
const LIMITS = { ms: 120_000, bytes: 1_500_000_000 };

/** Long enough to leaf through it. */
const KEPT_MS = 60_000;

interface Kept {
  readonly key: string;
  readonly at: number;
  readonly impact: Promise<ReleaseImpact>;
}
const kept = new WeakMap<Catalogue, Kept>();

/** So few are worked out sooner than a process of its own has begun. */
const FEW = 40;

/**
 * What a release would do to the fleet; a larger one is worked out away from the web's own thread. The last one is kept for a
 * minute, as long as no document and no read-out has come in since.
 */
export async function impactOnFleet(releaseId: string, type: string): Promise<ReleaseImpact> {
  const catalogue = await loadCatalogue();
  const { Aircraft, Backup } = getDb();
  const [count, newest] = [await Aircraft.count(), await Backup.unscoped().max("id")];
  const key = JSON.stringify([releaseId, type, count, newest]);
  const known = kept.get(catalogue);
  if (known?.key === key && Date.now() - known.at < KEPT_MS) return known.impact;
  const isSmall = count <= FEW;
  const impact = isSmall ? impactOn(releaseId, type) : readOutside("fleet-impact", { releaseId, type }, LIMITS);
  kept.set(catalogue, { key, at: Date.now(), impact });
  impact.catch(() => kept.delete(catalogue));
  return impact;
}
