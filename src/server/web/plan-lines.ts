import { destinedBy, sentPlaces, type Decisions, type Plan } from "@/core/carryover";
import { firmwareById, indexOf, type Catalogue, type Firmware } from "@/core/catalog";
import { addressId } from "@/core/config";
import { idiomOf, lineWriter, linesOfValue } from "@/core/idiom";
import { carriedBy, itemPrefix, ofOnePart, releaseFor, scopeOf, targetOf } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { catalogueOf } from "@/server/repositories/catalogue";
import type { JobView } from "@/server/web/job-view";

/**
 * The line that each item of a plan sends by what is decided now; nothing for what sends none, as it stands so already, or
 * cannot be said.
 */
export async function linesOfPlan({ job, state }: JobView, whole: Plan): Promise<Record<string, string>> {
  const catalogue = await catalogueOf(job.documents);
  const lines: Record<string, string> = {};
  for (const part of carriedBy(job.goal)) {
    const { plan, decisions } = ofOnePart(whole, state.decisions, part, job.goal);
    const release = firmwareById(catalogue, releaseFor(job.goal, part) ?? "");
    const target = targetOf(state, part) ?? whole.to.target;
    if (!release) continue;
    const own = linesOfPart(
      { ...plan, to: { ...plan.to, target } },
      decisions,
      release,
      catalogue,
      scopeOf(job.goal).starter,
    );
    for (const [id, line] of Object.entries(own)) lines[itemPrefix(part) + id] = line;
  }
  return lines;
}

function linesOfPart(
  plan: Plan,
  decisions: Decisions,
  release: Firmware,
  catalogue: Catalogue,
  starter: string | undefined,
): Record<string, string> {
  const document = catalogue.idioms.get(release.idiom);
  if (!document) return {};
  const write = lineWriter(release, idiomOf(document));
  const lines: Record<string, string> = {};
  const destined = destinedBy(plan, decisions);
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
  const sent = sentPlaces({ configuration, lines: [] }, release, starter);
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
        const own = indexOf(release).settings.get(key)?.area;
        const area = scope === "system" ? (own ?? "") : scope;
        return linesOfValue(write, release, { scope, key, value }, area, wanted).join(" ");
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
