import {
  alikeKey,
  choiceOf,
  type Choice,
  type Outcome,
  type Plan,
  type PlanItem,
  type SettingItem,
} from "@/core/carryover/plan";
import type { OnBoard } from "@/core/carryover/on-board";
import { scopesText } from "@/core/config";
import { hasWords } from "@/ui/base/words";

/** Items that read alike in several profiles, shown and decided as one. */
export interface PlanRow {
  readonly key: string;
  readonly items: readonly PlanItem[];
  readonly first: PlanItem;
  readonly places: string;
}

export interface PlanGroup {
  readonly id: string;
  readonly title: string;
  readonly outcome: Outcome;
  readonly rows: readonly PlanRow[];
  /** Too many to read at once: folded until asked for. */
  readonly folded: boolean;
}

interface Sorter {
  readonly id: string;
  readonly title: string;
  readonly outcome: Outcome;
  readonly folded?: boolean;
  fits(item: PlanItem): boolean;
}

const call = (item: PlanItem) => (item.kind === "line" ? undefined : item.call);
const by = (outcome: Outcome) => (item: PlanItem) => item.outcome === outcome;

/** The order in which a person has to look: what asks for a decision first, the silent ones before all. */
const SORTERS: readonly Sorter[] = [
  {
    id: "cannot",
    title: "Cannot be here: nothing is erased before this is settled",
    outcome: "cannot-be-here",
    fits: by("cannot-be-here"),
  },
  {
    id: "doubtful",
    title: "The read-out leaves open what these were",
    outcome: "your-call",
    fits: (item) => item.kind !== "line" && item.doubt !== undefined,
  },
  {
    id: "several",
    title: "Several values that were set become one: choose which",
    outcome: "your-call",
    fits: (item) => call(item) === "several",
  },
  {
    id: "silent",
    title: "Silent changes: nobody set these, and their defaults moved",
    outcome: "your-call",
    fits: (item) => call(item) === "silent",
  },
  {
    id: "behaviour",
    title: "Same number, other meaning",
    outcome: "your-call",
    fits: (item) => call(item) === "behaviour",
  },
  {
    id: "no-counterpart",
    title: "No counterpart in the new release",
    outcome: "your-call",
    fits: (item) => call(item) === "no-counterpart",
  },
  { id: "lines", title: "Lines that nobody understands", outcome: "your-call", fits: (item) => item.kind === "line" },
  {
    id: "unexplained",
    title: "Set by hand, and no rule says what becomes of it",
    outcome: "unknown",
    fits: (item) => call(item) === "unexplained",
  },
  { id: "call", title: "Only a person knows", outcome: "your-call", fits: by("your-call") },
  { id: "limited", title: "Limited", outcome: "limited", fits: by("limited") },
  { id: "unknown", title: "Not known in the new release", outcome: "unknown", fits: by("unknown") },
  {
    id: "restricts",
    title: "New, and can limit flight",
    outcome: "new-default",
    fits: (item) => item.kind === "setting" && item.restricts !== undefined,
  },
  { id: "converted", title: "Converted", outcome: "converted", fits: by("converted") },
  { id: "renamed", title: "Renamed", outcome: "renamed", fits: by("renamed") },
  { id: "new", title: "New, at their defaults", outcome: "new-default", fits: by("new-default") },
  { id: "retired", title: "Retired", outcome: "retired", fits: by("retired") },
  { id: "left-out", title: "Left out", outcome: "left-out", folded: true, fits: by("left-out") },
  { id: "same", title: "As they were", outcome: "as-it-was", folded: true, fits: by("as-it-was") },
];

const scopeOf = (item: SettingItem) => item.to?.scope ?? item.from?.scope ?? "system";

/** “tune 1–3, 5”: places that share a kind named once. */
const placesOf = (items: readonly PlanItem[]): string =>
  scopesText(items.flatMap((item) => (item.kind === "setting" ? [scopeOf(item)] : [])));

/** What of a plan is shown: what has these letters in its words, in one area. */
export interface Wanted {
  readonly q: string;
  readonly area: string;
}

const areaOf = (item: PlanItem) => (item.kind === "line" ? "lines" : item.area);

/** The areas that a plan speaks of, as choices. */
export const areasOf = (plan: Plan): { readonly value: string; readonly text: string }[] =>
  [...new Set(plan.items.map(areaOf))].toSorted().map((area) => ({ value: area, text: area }));

function isWanted(item: PlanItem, { q, area }: Wanted): boolean {
  if (area !== "" && areaOf(item) !== area) return false;
  const words = item.kind === "setting" ? [item.title, item.from?.key, item.to?.key, item.id] : [item.title, item.id];
  return hasWords(q, [...words, item.reason, ...item.trail.map(({ why }) => why)]);
}

/** What the job is ordered for: it is read first. */
const WANTED: Sorter = {
  id: "wanted",
  title: "What this job is for",
  outcome: "converted",
  fits: (item) => item.kind !== "line" && item.wanted === true,
};

/** What changes on the board that a plan is for, where the plan comes from elsewhere: before all others. */
const changing = ({ places }: OnBoard): Sorter => ({
  id: "changes",
  title: "Changes on this board",
  outcome: "converted",
  fits: (item) => places[item.id]?.same === false,
});

export function groupPlan(plan: Plan, wanted: Wanted = { q: "", area: "" }, board?: OnBoard): PlanGroup[] {
  const all = wanted.q === "" && wanted.area === "";
  const left = new Set(all ? plan.items : plan.items.filter((item) => isWanted(item, wanted)));
  return [WANTED, ...(board ? [changing(board)] : []), ...SORTERS].flatMap((sorter): PlanGroup[] => {
    const rows = new Map<string, PlanItem[]>();
    for (const item of left) {
      if (!sorter.fits(item)) continue;
      left.delete(item);
      const place = board?.places[item.id];
      const key = place ? `${alikeKey(item)}|${place.now}|${place.then}` : alikeKey(item);
      rows.set(key, [...(rows.get(key) ?? []), item]);
    }
    const list = [...rows].flatMap(([key, items]) =>
      items[0] ? [{ key, items, first: items[0], places: placesOf(items) }] : [],
    );
    return list.length === 0
      ? []
      : [
          {
            id: sorter.id,
            title: sorter.title,
            outcome: sorter.outcome,
            folded: all && (sorter.folded ?? false),
            rows: list,
          },
        ];
  });
}

/** Old key, or old → new where it changed. */
export function keyText(item: SettingItem): string {
  const [from, to] = [item.from?.key, item.to?.key];
  return from !== undefined && to !== undefined && from !== to ? `${from} → ${to}` : (to ?? from ?? "");
}

/** The id of a row's element. */
export const rowId = ({ first }: PlanRow): string => encodeURIComponent(first.id);

/** The choice that all items of a row have taken, if they agree. */
export function takenChoice(row: PlanRow, decisions: Readonly<Record<string, string>>): Choice | undefined {
  const [first] = row.items;
  const taken = first && choiceOf(first, decisions);
  return row.items.every((item) => choiceOf(item, decisions)?.id === taken?.id) ? taken : undefined;
}
