import type { Difference } from "@/core/compare";
import { compareSentence, groupByArea, joinAlike, joinProfiles, quietGroups } from "@/ui/compare/groups";

const difference = (id: string, more: Partial<Difference> = {}): Difference => ({
  id,
  kind: "setting",
  title: id,
  place: id.includes(" ") ? `${id.split("/")[1] ?? ""} · ${id.split("/")[0] ?? ""}` : id,
  area: "tune",
  says: "",
  flies: true,
  belongsTo: "type",
  cause: "set",
  left: { value: 1, shown: "1", explicit: true, line: 1 },
  right: { value: 2, shown: "2", explicit: true, line: 1 },
  why: [],
  ...more,
});
const counted = (differences: Difference[], more: object = {}) => ({
  compared: 241,
  unsure: [],
  differences,
  behaviour: [],
  identity: [],
  ...more,
});

describe("a comparison in words", () => {
  it("says how much differs and how much of it flies", () => {
    const some = [difference("system/a"), difference("system/b", { flies: false })];
    expect(compareSentence("QW-04", "Sedge standard 1", counted(some))).toBe(
      "QW-04 differs from Sedge standard 1 in 2 of 241 values. One changes how it flies.",
    );
    expect(compareSentence("A", "B", counted(some.slice(1)))).toBe(
      "A differs from B in 1 of 241 values. None changes how it flies.",
    );
  });

  it("equal values on other builds are not called alike without saying so", () => {
    expect(compareSentence("A", "B", counted([]))).toBe("A and B are alike in all 241 values.");
    expect(compareSentence("A", "B", counted([], { identity: [{ what: "release" }] }))).toBe(
      "A and B are alike in all 241 values, on different builds.",
    );
    expect(compareSentence("A", "B", counted([], { behaviour: [1, 2] }))).toBe(
      "A and B hold equal values, and are not alike: two of them mean something else on the other build.",
    );
  });

  it("groups by what a maintainer thinks of, and names the quiet groups", () => {
    const items = [difference("system/a", { area: "tune", flies: false }), difference("system/b", { area: "feel" })];
    expect(groupByArea(items).map((g) => [g.name, g.items.map((i) => i.id)])).toEqual([
      ["Handling", ["system/b", "system/a"]],
    ]);
    expect(quietGroups(items)).toEqual(["Safety", "Wiring", "Watching", "Upkeep"]);
  });

  it("what reads alike in several profiles is one row", () => {
    const items = [1, 2, 3, 5].map((n) => difference(`tune ${n}/roll.push`));
    const odd = difference("tune 4/roll.push", { left: { value: 9, shown: "9", explicit: true, line: 1 } });
    expect(joinAlike([...items, odd]).map((i) => i.place)).toEqual([
      "roll.push · tune 1, 2, 3, 5",
      "roll.push · tune 4",
    ]);
    expect(joinAlike(items.slice(0, 3)).map((i) => i.place)).toEqual(["roll.push · tune 1–3"]);
  });

  it("columns of a drift are joined only where the same aircraft hold the same", () => {
    const column = (id: string) => ({
      id,
      title: "Push",
      place: `roll.push · ${id.split("/")[0] ?? ""}`,
      area: "tune",
      says: "",
      flies: true,
      standard: "45",
      count: 1,
    });
    const cell = (id: string, shown: string) => ({ column: id, shown, standard: "45", flies: true });
    const columns = [1, 2, 3].map((n) => column(`tune ${n}/roll.push`));
    const rows = [
      {
        tag: "QW-1",
        cells: [cell("tune 1/roll.push", "50"), cell("tune 2/roll.push", "50"), cell("tune 3/roll.push", "60")],
      },
    ];
    expect(joinProfiles({ columns, rows }).map((c) => c.place)).toEqual(["roll.push · tune 1–2", "roll.push · tune 3"]);
  });
});
