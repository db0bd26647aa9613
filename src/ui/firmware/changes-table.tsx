import { HOWS, type How, type Impact, type ReleaseChange } from "@/core/compare";
import { HowGroups, type HeldBy, type HowGroup, type HowRow } from "@/ui/firmware/how-groups";

type Touched = Pick<ReleaseChange, "id" | "how" | "title" | "place" | "area" | "flies" | "why" | "says">;

const rowOf = (item: Touched, cells: HowRow["cells"]): HowRow => {
  const { id, title, place, area, flies, why, says } = item;
  return { id, title, place, area, flies, why: why.length > 0 ? [...new Set(why)] : [says], cells };
};

function grouped<Item extends Touched & { readonly how: How }>(
  items: readonly Item[],
  cellsOf: (item: Item) => HowRow["cells"],
): HowGroup[] {
  return HOWS.map((how) => ({
    how,
    rows: items.filter((item) => item.how === how).map((item) => rowOf(item, cellsOf(item))),
  })).filter(({ rows }) => rows.length > 0);
}

/** Changes by how they touch a setting, the silent ones first. */
export function ChangesTable({ changes }: { readonly changes: readonly ReleaseChange[] }) {
  return (
    <HowGroups
      head={["Setting", "Before", "After", "Why"]}
      groups={grouped(changes, ({ before, after }) => [before ?? "", after ?? ""])}
    />
  );
}

const SHOWN = 8;

/** What a release would do to a fleet: settings down, and for each which aircraft and what becomes of their values. */
export function ImpactTable({ impacts }: { readonly impacts: readonly Impact[] }) {
  return <HowGroups head={["Setting", "Aircraft", "Why"]} groups={grouped(impacts, (impact) => [byValue(impact)])} />;
}

function byValue({ aircraft }: Impact): HeldBy[] {
  const groups = new Map<string, string[]>();
  for (const { tag, before, after } of aircraft) {
    const text =
      before === undefined ? (after ?? "") : after === undefined || after === before ? before : `${before} → ${after}`;
    groups.set(text, [...(groups.get(text) ?? []), tag]);
  }
  return [...groups].map(([text, tags]) => ({
    text,
    tags: tags.slice(0, SHOWN),
    more: Math.max(0, tags.length - SHOWN),
  }));
}
