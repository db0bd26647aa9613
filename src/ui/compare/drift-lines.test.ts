import { type Drift, type DriftCell } from "@/core/compare";
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
    expect(many?.held[0]).toEqual({ shown: "1", tags: tags.slice(0, 6), more: 2 });
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
