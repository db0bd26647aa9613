import { AREA_GROUPS } from "@/core/config";
import type { Difference, Drift, DriftColumn } from "@/core/compare";
import { inWords } from "@/ui/base/words";

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
const NAMED = new Set(GROUPS.flatMap(([, areas]) => areas));
/** Areas that a release brings. */
const OTHER = "Of its own";

/** By group of areas, the ones that change how it flies first; groups without items are left out. */
export function groupByArea<Item extends Pick<Difference, "area" | "flies">>(
  items: readonly Item[],
): DifferenceGroup<Item>[] {
  const ofGroup = (name: string, fits: (area: string) => boolean) => ({
    name,
    items: items.filter((item) => fits(item.area)).toSorted((a, b) => Number(b.flies) - Number(a.flies)),
  });
  return [
    ...GROUPS.map(([name, areas]) => ofGroup(name, (area) => areas.includes(area))),
    ofGroup(OTHER, (area) => !NAMED.has(area)),
  ].filter((group) => group.items.length > 0);
}

/** Names of the groups in which nothing differs. */
export const quietGroups = (items: readonly Pick<Difference, "area">[]): string[] =>
  GROUPS.filter(([name, areas]) => name !== "Not understood" && !items.some((item) => areas.includes(item.area))).map(
    ([name]) => name,
  );

interface Counted {
  readonly compared: number;
  readonly differences: readonly Pick<Difference, "flies">[];
  readonly behaviour: readonly unknown[];
  readonly unsure: readonly unknown[];
  readonly identity: readonly { readonly what: string }[];
}

/** “One differs from the other in 9 of 241 values. Four change how it flies. Two more cannot be told.” */
export function compareSentence(left: string, right: string, comparison: Counted): string {
  const certain = certainSentence(left, right, comparison);
  const open = comparison.unsure.length;
  return open === 0
    ? certain
    : `${certain} ${inWords(open)} more cannot be told: a side leaves ${open === 1 ? "it" : "them"} open.`;
}

function certainSentence(left: string, right: string, comparison: Counted): string {
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

/** `tune 2`, `tune 3`, `tune 4` → `tune 2–4`; with gaps each is named. */
function spanText(kind: string, numbers: readonly number[]): string {
  const [first = 0, last = 0] = [numbers[0], numbers.at(-1)];
  if (numbers.length === 1) return `${kind} ${first}`;
  return last - first === numbers.length - 1 ? `${kind} ${first}–${last}` : `${kind} ${numbers.join(", ")}`;
}

/** Columns of a drift in which the same aircraft hold the same values in several profiles stand as one. */
export function joinProfiles(drift: Drift): DriftColumn[] {
  const held = new Map<string, string[]>();
  for (const row of drift.rows)
    for (const cell of row.cells) held.set(cell.column, [...(held.get(cell.column) ?? []), `${row.tag} ${cell.shown}`]);
  const joined = new Map<string, { column: DriftColumn; kind: string; numbers: number[] }>();
  for (const column of drift.columns) {
    const profile = /^(.+) (\d+)\/(.+)$/.exec(column.id);
    const [, kind = "", number = "0", key = ""] = profile ?? [];
    const alike = profile ? `${kind} ${key} ${column.standard} ${(held.get(column.id) ?? []).join()}` : column.id;
    const known = joined.get(alike);
    if (known) known.numbers.push(Number(number));
    else joined.set(alike, { column, kind, numbers: profile ? [Number(number)] : [] });
  }
  return [...joined.values()].map(({ column, kind, numbers }) =>
    numbers.length < 2
      ? column
      : {
          ...column,
          place: `${column.place.split(" · ")[0] ?? ""} · ${spanText(
            kind,
            numbers.toSorted((a, b) => a - b),
          )}`,
        },
  );
}

/** Differences that read alike in several profiles stand as one, with the span of profiles in their place. */
export function joinAlike(items: readonly Difference[]): Difference[] {
  const joined = new Map<string, { item: Difference; kind: string; numbers: number[] }>();
  for (const item of items) {
    const [, kind = "", number = "0", key = ""] = /^(.+) (\d+)\/(.+)$/.exec(item.id) ?? [];
    const alike =
      key === ""
        ? item.id
        : JSON.stringify([
            kind,
            key,
            item.cause,
            item.left?.shown,
            item.left?.explicit,
            item.right?.shown,
            item.right?.explicit,
            item.why,
          ]);
    const known = joined.get(alike);
    if (known) known.numbers.push(Number(number));
    else joined.set(alike, { item, kind, numbers: key === "" ? [] : [Number(number)] });
  }
  return [...joined.values()].map(({ item, kind, numbers }) =>
    numbers.length < 2 ? item : { ...item, place: `${item.place.split(" · ")[0] ?? ""} · ${spanText(kind, numbers)}` },
  );
}
