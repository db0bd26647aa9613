import type { Difference, SideValue } from "@/core/compare/difference";

/** Who changed a value since the base. */
export type Change = "mine" | "theirs" | "both-alike" | "conflict";
export type Take = "base" | "mine" | "theirs";

export interface ThreeItem extends Pick<
  Difference,
  "id" | "title" | "place" | "area" | "says" | "flies" | "belongsTo"
> {
  readonly kind: "setting" | "row" | "active";
  readonly change: Change;
  readonly base?: SideValue;
  readonly mine?: SideValue;
  readonly theirs?: SideValue;
}

/** What is taken when nobody decides: each side's own change; a conflict has no such answer. */
export function usualTake(change: Change): Take | undefined {
  switch (change) {
    case "mine":
    case "both-alike":
      return "mine";
    case "theirs":
      return "theirs";
    case "conflict":
      return undefined;
  }
}

/** A side that leaves open what it holds gives nothing to take. */
export const mayTake = (item: ThreeItem, take: Take): boolean => item[take]?.doubt === undefined;

/** Conflicts that nobody has decided. */
export const openConflicts = (items: readonly ThreeItem[], takes: Readonly<Record<string, Take>>): ThreeItem[] =>
  items.filter((item) => {
    const take = takes[item.id] ?? usualTake(item.change);
    return take === undefined || !mayTake(item, take);
  });
