import type { AreaDifference, PartFrom, Parts } from "@/core/carryover/baseline";
import { withAreas, type Area } from "@/core/config";
import { Table } from "@/ui/base/table";
import { Select } from "@/ui/base/select";

type Differences = readonly AreaDifference[] | undefined;

/** How many places of an area would change. */
function changesIn(differences: Differences, area: Area, from: PartFrom | undefined): number {
  const found = differences?.find((each) => each.area === area);
  if (!found || from === "board") return 0;
  return found.shared + (from === "baseline" ? found.own : 0);
}

/** Those that every workshop has, and those in which something differs. */
const areasOf = (differences: Differences): Area[] => withAreas((differences ?? []).map(({ area }) => area));

/** Every area from the other side. */
export const allFrom = (differences: Differences, from: PartFrom): Parts =>
  Object.fromEntries(areasOf(differences).map((area) => [area, from]));

export const changesOf = (differences: Differences, parts: Parts): number =>
  areasOf(differences).reduce((sum, area) => sum + changesIn(differences, area, parts[area]), 0);

/** Area by area: how much would change, and where it comes from. */
export function PartsTable({
  differences,
  parts,
  theirs,
  onParts,
}: {
  /** Not known where no backup says how the board stands. */
  readonly differences: Differences;
  readonly parts: Parts;
  /** How the other side is called: “Everything”. */
  readonly theirs: string;
  readonly onParts: (parts: Parts) => void;
}) {
  const areas = areasOf(differences);
  const shown = areas.filter((area) => !differences || changesIn(differences, area, "baseline") > 0);
  const ways: readonly { readonly from: PartFrom | undefined; readonly title: string }[] = [
    { from: undefined, title: "All but its own" },
    { from: "board", title: "Nothing" },
    { from: "baseline", title: theirs },
  ];
  return (
    <>
      <div className={shown.length === 0 ? "hidden" : "overflow-x-auto"}>
        <Table
          label="Where each area comes from"
          rows={shown}
          keyOf={(area) => area}
          columns={[
            { head: "Area", cell: (area) => area },
            {
              head: "Would change",
              counts: true,
              cell: (area) => (differences ? changesIn(differences, area, parts[area]) : "not known"),
            },
            {
              head: "What changes",
              cell: (area) => (
                <Select
                  label={`What changes of ${area}`}
                  says="hidden"
                  value={parts[area] ?? ""}
                  options={ways.map(({ from, title }) => ({ value: from ?? "", text: title }))}
                  onValue={(next) => {
                    const way = ways.find(({ from }) => (from ?? "") === next);
                    const rest = Object.entries(parts).filter(([name]) => name !== area);
                    onParts(Object.fromEntries(way?.from ? [...rest, [area, way.from] as const] : rest));
                  }}
                />
              ),
            },
          ]}
        />
      </div>
      {shown.length < areas.length && (
        <p className="text-sm text-faded">Alike already: {areas.filter((area) => !shown.includes(area)).join(", ")}.</p>
      )}
    </>
  );
}
