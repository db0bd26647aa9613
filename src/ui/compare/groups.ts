import { AREA_GROUPS } from "@/core/config";
import { type Difference } from "@/core/compare";

export interface DifferenceGroup<Item> {
  readonly name: string;
  readonly items: readonly Item[];
}

const GROUPS: readonly (readonly [name: string, areas: readonly string[]])[] = [
  ["Handling", [...AREA_GROUPS.Handling, "profiles"]],
  ["Safety", AREA_GROUPS.Safety],
  ["Wiring", AREA_GROUPS.Wiring],
  ["Watching", AREA_GROUPS.Watching],
  ["Upkeep", AREA_GROUPS.Upkeep],
  ["Not understood", ["lines"]],
];

/** By group of areas, the ones that change how it flies first; groups without items are left out. */
export function groupByArea<Item extends Pick<Difference, "area" | "flies">>(
  items: readonly Item[],
): DifferenceGroup<Item>[] {
  return GROUPS.map(([name, areas]) => ({
    name,
    items: items.filter((item) => areas.includes(item.area)).toSorted((a, b) => Number(b.flies) - Number(a.flies)),
  })).filter((group) => group.items.length > 0);
}

/** Names of the groups in which nothing differs. */
export const quietGroups = (items: readonly Pick<Difference, "area">[]): string[] =>
  GROUPS.filter(([name, areas]) => name !== "Not understood" && !items.some((item) => areas.includes(item.area))).map(
    ([name]) => name,
  );

const NUMBERS = [
  "No",
  "One",
  "Two",
  "Three",
  "Four",
  "Five",
  "Six",
  "Seven",
  "Eight",
  "Nine",
  "Ten",
  "Eleven",
  "Twelve",
];
const inWords = (n: number) => NUMBERS[n] ?? String(n);

interface Counted {
  readonly compared: number;
  readonly differences: readonly Pick<Difference, "flies">[];
  readonly behaviour: readonly unknown[];
  readonly identity: readonly { readonly what: string }[];
}

/** “QW-04 differs from Sedge standard 1 in 9 of 241 values. Four change how it flies.” */
export function compareSentence(left: string, right: string, comparison: Counted): string {
  const { differences, compared, behaviour, identity } = comparison;
  if (differences.length === 0) {
    const otherBuild = identity.some(({ what }) => what === "release" || what === "build" || what === "target");
    if (behaviour.length > 0)
      return `${left} and ${right} hold equal values, and are not alike: ${inWords(behaviour.length).toLowerCase()} of them ${behaviour.length === 1 ? "means" : "mean"} something else on the other build.`;
    return `${left} and ${right} are alike in all ${compared} values${otherBuild ? ", on different builds" : ""}.`;
  }
  const flies = differences.filter((difference) => difference.flies).length;
  const first = `${left} differs from ${right} in ${differences.length} of ${compared} values.`;
  if (flies === 0) return `${first} None changes how it flies.`;
  return `${first} ${inWords(flies)} ${flies === 1 ? "changes" : "change"} how it flies.`;
}
