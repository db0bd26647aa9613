import { findTarget, mountsOf, releaseTitle, type Catalogue, type Firmware } from "@/core/catalog";
import type { Configuration } from "@/core/config";
import { planCarryover } from "@/core/carryover/compute";
import type { Plan, RowItem, Whose } from "@/core/carryover/plan";
import { routeBetween } from "@/core/carryover/route";
import { rowItems } from "@/core/carryover/rows";
import { ok, refuse, type Result } from "@/core/problem";

/**
 * The plan for a board from a read-out, by whose board that was taken of; with the releases that take what this one does
 * not. Refuses a release that does not build its target.
 */
export function planUpdate(
  recital: { readonly configuration: Configuration; readonly release: Firmware },
  to: Firmware,
  targetName: string,
  catalogue: Catalogue,
  whose: Whose = "this-board",
): Result<Plan> {
  const target = findTarget(to, targetName);
  if (!target) return refuse({ code: "target-missing", message: `${releaseTitle(to)} is not built for ${targetName}` });
  const route = routeBetween(catalogue, recital.release, to);
  if (!route.ok) return route;
  const { configuration: source, release: from } = recital;
  const model = [...catalogue.models.values()].find((model) => model.target === target.id);
  const plan = planCarryover({
    source,
    from,
    to,
    target,
    route: route.value,
    parts: model ? mountsOf(model).map(({ part }) => part) : [],
    whose,
  });
  return ok(withServers(plan, (item) => serversOf(item, { source, from, target: targetName }, catalogue)));
}

const withServers = (plan: Plan, servers: (item: RowItem) => readonly string[]): Plan => ({
  ...plan,
  items: plan.items.map((item) =>
    item.kind === "row" && item.outcome === "cannot-be-here" ? { ...item, servedBy: servers(item) } : item,
  ),
});

/** Releases built for the target on which a row can stay where it is, those of the shortest ways first. */
function serversOf(
  item: RowItem,
  { source, from, target: name }: { readonly source: Configuration; readonly from: Firmware; readonly target: string },
  catalogue: Catalogue,
): string[] {
  const found = [...catalogue.releases.values()].flatMap((release) => {
    const target = findTarget(release, name);
    const route = target && routeBetween(catalogue, from, release);
    if (!target || !route?.ok) return [];
    const there = rowItems(source, from, route.value, release, target);
    const same = there.find(({ table, from: row }) => table === item.table && row?.key === item.from?.key);
    return same?.to && same.outcome !== "cannot-be-here" && same.to.key === item.from?.key
      ? [{ title: releaseTitle(release), hops: route.value.length, builtOn: release.builtOn }]
      : [];
  });
  const nearest = found.toSorted((a, b) => a.hops - b.hops || (a.builtOn < b.builtOn ? 1 : -1));
  return nearest.map(({ title }) => title);
}
