import type { Drift, DriftCell } from "@/core/compare";
import { driftGridData } from "@/ui/compare/drift-grid-data";
import { driftLines } from "@/ui/compare/drift-lines";

const cell = (column: string, shown: string): DriftCell => ({ column, shown, standard: "0", flies: false });
const column = (id: string, count: number) => ({
  id,
  title: id,
  place: id,
  area: "tune",
  says: "",
  flies: false,
  standard: "0",
  count,
});

describe("a fleet's drift as a matrix", () => {
  const drift: Drift = {
    columns: [{ ...column("flown", 2), flies: true }, column("quiet", 1)],
    rows: [
      { tag: "QW-20", cells: [cell("flown", "7")] },
      { tag: "QW-21", cells: [] },
      { tag: "QW-22", cells: [cell("flown", "7"), cell("quiet", "9")] },
    ],
  };
  const read = (data: ReturnType<typeof driftGridData>) =>
    data.aircraft.map((tag, i) => [
      tag,
      ...Array.from({ length: (data.cells[i]?.length ?? 0) / 2 }, (_, at) => {
        const [setting, text] = data.cells[i]?.slice(at * 2, at * 2 + 2) ?? [];
        return `${data.settings[setting ?? -1]?.title ?? ""} ${data.texts[text ?? -1] ?? ""}`;
      }),
    ]);

  it("holds every cell, the farthest aircraft first; those on the standard are left out, texts stand once", () => {
    const data = driftGridData(drift, false);
    expect(read(data)).toEqual([
      ["QW-22", "flown 7", "quiet 9"],
      ["QW-20", "flown 7"],
    ]);
    expect(data.texts).toEqual(["7", "9"]);
  });

  it("shows only what flies when that is asked", () => {
    expect(read(driftGridData(drift, true))).toEqual([
      ["QW-20", "flown 7"],
      ["QW-22", "flown 7"],
    ]);
  });
});

describe("a fleet's drift by setting", () => {
  const tags = Array.from({ length: 12 }, (_, i) => `QW-${i + 20}`);
  const drift: Drift = {
    columns: [column("many", 12), column("one", 1)],
    rows: tags.map((tag, i) => ({
      tag,
      cells: [cell("many", i < 8 ? "1" : String(i)), ...(i === 0 ? [cell("one", "9")] : [])],
    })),
  };

  it("tells what is held instead, most widely held first, with some of who holds it", () => {
    const [many, one] = driftLines(drift);
    expect(many?.held[0]).toEqual({ shown: "1", tags: tags.slice(0, 3), more: 5 });
    expect(many?.held.slice(1).map((each) => [each.shown, each.tags.length, each.more])).toEqual([
      ["8", 1, 0],
      ["9", 1, 0],
      ["10", 1, 0],
    ]);
    // four values are named, the fifth is counted
    expect(many?.others).toBe(1);
    expect(one).toMatchObject({ count: 1, others: 0, held: [{ shown: "9", tags: ["QW-20"], more: 0 }] });
  });

  it("does not grow with the fleet", () => {
    const wide: Drift = {
      columns: drift.columns,
      rows: Array.from({ length: 2000 }, (_, i) => ({ tag: `QW-${i}`, cells: [cell("many", String(i % 300))] })),
    };
    expect(JSON.stringify(driftLines(wide)).length).toBeLessThan(JSON.stringify(driftLines(drift)).length * 2);
  });
});
