import { LRUCache } from "lru-cache";
import type { Plan } from "@/core/carryover";
import type { Catalogue } from "@/core/catalog";
import type { Recital } from "@/core/idiom";
import { planFrom, sourcesOf, type PlanOrder, type Sources } from "@/core/job";
import { recitalOf } from "@/server/repositories/backups";

/** A plan with the readings that it was made from. */
interface Kept {
  readonly plan: Plan;
  readonly sources: Sources;
}

/** Plans by one catalogue that are kept in memory: some hundred KB each. */
const KEPT = 40;
const holder = globalThis as typeof globalThis & { freshStartPlans?: WeakMap<Catalogue, LRUCache<string, Kept>> };

/**
 * The plan for a goal, by the documents given: what the bench takes, the card shows and a campaign looks ahead to. Undefined
 * while a backup is missing that it cannot do without; throws a problem where there can be no plan. It follows from nothing
 * else, so it is worked out once for as long as the texts that it is made from are read the same.
 */
export async function planFor(order: PlanOrder, catalogue: Catalogue): Promise<Plan | undefined> {
  const sources = await sourcesOf(order, (id): Promise<Recital> => recitalOf(id, catalogue));
  if (!sources) return undefined;
  const all = (holder.freshStartPlans ??= new WeakMap());
  const kept = all.get(catalogue) ?? new LRUCache({ max: KEPT });
  all.set(catalogue, kept);
  const name = JSON.stringify(order);
  const known = kept.get(name);
  // a reading stays one object for as long as nobody says that its text is something else
  if (known && known.sources.chosen === sources.chosen && known.sources.board === sources.board) return known.plan;
  const plan = planFrom(order, sources, catalogue);
  kept.set(name, { plan, sources });
  return plan;
}
