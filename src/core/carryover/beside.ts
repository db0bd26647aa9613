import { choiceOf, type Decisions, type Plan, type PlanItem } from "@/core/carryover/plan";
import { destinedBy, type Destined } from "@/core/carryover/settle";

/** A plan with what was decided on it. */
export interface DecidedPlan {
  readonly plan: Plan;
  readonly decisions: Decisions;
}

/** One place that two plans do not treat alike. */
export interface PlanDifference {
  readonly id: string;
  readonly title: string;
  readonly area: string;
  readonly flies: boolean;
  /** What each does with it, in words; absent where the plan has no such place. */
  readonly left?: string;
  readonly right?: string;
}

const rowText = (cells: Readonly<Record<string, unknown>>) =>
  Object.entries(cells)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(", ");

/** What comes of an item, in words: what the board gets, or why it gets nothing. */
function told(destined: Destined, decisions: Decisions): string {
  const { item } = destined;
  const choice = choiceOf(item, decisions);
  switch (destined.kind) {
    case "value":
      return choice?.shown ?? destined.item.to?.shown ?? String(destined.entry.value);
    case "row":
      return `${destined.row.key}: ${rowText(destined.row.cells)}`;
    case "line":
      return "sent as it is";
    case "left":
      return item.kind !== "line" && item.scoped ? "left behind on purpose" : "left behind";
    case "gone":
      return item.choices.length > 0 ? "not decided" : "has no place";
  }
}

const areaOf = (item: PlanItem) => (item.kind === "line" ? "lines" : item.area);

/** What two plans do otherwise, place by place: those that change how it flies first. */
export function plansBeside(left: DecidedPlan, right: DecidedPlan): PlanDifference[] {
  const side = ({ plan, decisions }: DecidedPlan) =>
    new Map(
      destinedBy(plan, decisions).map((each) => [each.item.id, { item: each.item, says: told(each, decisions) }]),
    );
  const [mine, theirs] = [side(left), side(right)];
  return [...new Set([...mine.keys(), ...theirs.keys()])]
    .flatMap((id): PlanDifference[] => {
      const [a, b] = [mine.get(id), theirs.get(id)];
      const item = (a ?? b)?.item;
      if (!item || a?.says === b?.says) return [];
      return [
        {
          ...{ id, title: item.title, area: areaOf(item), flies: item.kind !== "line" && item.flies },
          ...(a ? { left: a.says } : {}),
          ...(b ? { right: b.says } : {}),
        },
      ];
    })
    .toSorted((a, b) => Number(b.flies) - Number(a.flies));
}
