import { destinedBy, sentPlaces, type Plan } from "@/core/carryover";
import { indexOf, releaseById } from "@/core/catalog";
import { addressId } from "@/core/config";
import { idiomOf, lineWriter, linesOfValue } from "@/core/idiom";
import { scopeOf } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { catalogueOf } from "@/server/repositories/catalogue";
import type { JobView } from "@/server/web/job-view";

/**
 * The line that each item of a plan sends by what is decided now; nothing for what sends none, as it stands so already, or
 * cannot be said.
 */
export async function linesOfPlan({ job, state }: JobView, plan: Plan): Promise<Record<string, string>> {
  const catalogue = await catalogueOf(job.documents);
  const release = releaseById(catalogue, plan.to.release);
  const document = release.ok ? catalogue.idioms.get(release.value.idiom) : undefined;
  if (!release.ok || !document) return {};
  const write = lineWriter(release.value, idiomOf(document));
  const lines: Record<string, string> = {};
  const destined = destinedBy(plan, state.decisions);
  const wanted = new Map(
    destined.flatMap((each) => (each.kind === "value" ? [[addressId(each.entry), each.entry.value] as const] : [])),
  );
  const configuration = {
    identity: { target: plan.to.target },
    settings: destined.flatMap((each) => (each.kind === "value" ? [each.entry] : [])),
    rows: destined.flatMap((each) => (each.kind === "row" ? [each.row] : [])),
    active: plan.active,
    unknown: [],
  };
  const sent = sentPlaces({ configuration, lines: [] }, release.value, scopeOf(job.goal).starter);
  for (const each of destined)
    try {
      const said = lineOf(each);
      if (said !== "") lines[each.item.id] = said;
    } catch (error) {
      // a language that cannot say it: the plan step tells that, not this column
      if (!(error instanceof ProblemError)) throw error;
    }
  return lines;

  function lineOf(each: ReturnType<typeof destinedBy>[number]): string {
    switch (each.kind) {
      case "value": {
        const { scope, key, value } = each.entry;
        if (!sent.has(addressId(each.entry))) return "";
        const own = release.ok ? indexOf(release.value).settings.get(key)?.area : undefined;
        const area = scope === "system" ? (own ?? "") : scope;
        return release.ok ? linesOfValue(write, release.value, { scope, key, value }, area, wanted).join(" ") : "";
      }
      case "row":
        return write.row(each.row.table, each.row.key, each.row.cells).join(" ");
      case "line":
        return each.item.from.text.trim();
      case "left":
      case "gone":
        return "";
    }
  }
}
