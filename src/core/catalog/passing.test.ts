import { rowsOf, slotsOf } from "@/core/catalog";
import { addressId, type Configuration } from "@/core/config";
import { madeCatalogue, nextRelease, number, releaseIn, setting, wholeRelease } from "../../../tests/support/made";

const ROOT = wholeRelease(
  "root-1",
  [
    setting("smooth", number(0, 1000), 90, { concept: { id: "smooth" } }),
    setting("{}.push", number(0, 100), 0, { for: { roll: 40, pitch: 42 }, scope: "tune", concept: { id: "{}.push" } }),
    setting("does", { choice: ["drop", "cut"] }, "drop", { concept: { id: "does" } }),
    setting("pair", number(0, 100), 7),
    setting("old", number(0, 9), 1),
  ],
  {
    requires: [{ part: "co-processor", family: "Co", least: 4 }],
    pictures: [{ kind: "smoothing", title: "S", frequency: "smooth" }],
    tables: [
      {
        name: "ports",
        title: "Port",
        area: "ports",
        maxRows: 4,
        keys: [{ name: "port", title: "Port", type: number(1, 4), default: 1 }],
        columns: [{ name: "use", title: "Use", type: { choice: ["none", "ear"] }, default: "none" }],
        rows: [{ key: "2", cells: { use: "ear" } }],
      },
    ],
    starters: [
      {
        name: "frame",
        airframe: "Frame",
        values: [
          { key: "smooth", value: 120 },
          { key: "does", value: "cut" },
          { key: "pair", value: 9 },
          { key: "old", value: 3 },
          { scope: "tune 1", key: "roll.push", value: 55 },
        ],
      },
    ],
  },
);
const NEXT = nextRelease(
  "root-2",
  "root-1",
  [
    { rule: "rescale", key: "smooth", to: "smooth.tenths", factor: 10, why: "Tenths." },
    { rule: "map", key: "does", words: { drop: "sink", cut: "stop" }, why: "Words." },
    { rule: "split", key: "pair", into: ["pair.a", "pair.b"], why: "Two." },
    { rule: "retire", key: "old", why: "Gone." },
    { rule: "rename", key: "roll.push", to: "roll.answer" },
  ],
  {
    change: [
      { key: "smooth.tenths", type: number(0, 10_000), default: 900 },
      { key: "does", type: { choice: ["sink", "stop"] }, default: "sink" },
    ],
    changeRows: [{ table: "ports", rows: [{ key: "4", cells: { use: "ear" } }] }],
    add: [setting("pair.a", number(0, 8), 7), setting("pair.b", number(0, 100), 7)],
  },
);
describe("a release written as its ancestor plus its rules", () => {
  const later = releaseIn(madeCatalogue(ROOT, NEXT), "root-2");
  const byKey = (key: string) => later.settings.find((each) => each.key === key);

  it("keeps what its settings mean: a concept's factor and words follow the rules", () => {
    expect(byKey("smooth.tenths")?.concept).toMatchObject({ id: "smooth", factor: 0.1 });
    expect(byKey("does")?.concept).toMatchObject({ id: "does", words: { sink: "drop", stop: "cut" } });
    expect(byKey("roll.answer")?.concept).toEqual({ id: "roll.push" });
  });

  it("passes starter sets through the rules: renamed, converted, split, limited; what was retired is dropped", () => {
    expect(later.starters[0]?.values.map((v) => [v.scope, v.key, v.value])).toEqual([
      ["system", "smooth.tenths", 1200],
      ["system", "does", "stop"],
      ["system", "pair.a", 8],
      ["system", "pair.b", 9],
      ["tune 1", "roll.answer", 55],
    ]);
  });

  it("takes over tables, pictures, requirements; rows on an erased board only where it says so", () => {
    expect(later.tables[0]?.rows).toEqual([{ key: "4", cells: { use: "ear" } }]);
    expect(later.pictures).toHaveLength(1);
    expect(later.requires).toEqual([{ part: "co-processor", family: "Co", least: 4 }]);
    expect(later.passages.map((passage) => [passage.from, passage.rules.length])).toEqual([["root-1", 5]]);
  });

  it("ways from other releases stand beside the one from its ancestor", () => {
    const other = { ...ROOT, id: "side-1", family: "side" };
    const joined = releaseIn(
      madeCatalogue(ROOT, other, {
        ...NEXT,
        passages: [{ from: "side-1", rules: [{ rule: "retire", key: "old", why: "Gone." }] }],
      }),
      "root-2",
    );
    expect(joined.passages.map((passage) => passage.from)).toEqual(["root-1", "side-1"]);
  });
});

describe("what a configuration means without writing it", () => {
  const root = releaseIn(madeCatalogue(ROOT), "root-1");
  const configuration = (more: Partial<Configuration>): Configuration => ({
    identity: {},
    settings: [],
    rows: [],
    active: {},
    unknown: [],
    ...more,
  });

  it("a table that was not written holds its default rows; one that was begun holds what it holds", () => {
    expect(rowsOf(configuration({ begun: [] }), root)).toEqual([
      { table: "ports", key: "2", cells: { use: "ear" }, line: 0 },
    ]);
    expect(rowsOf(configuration({ begun: ["ports"] }), root)).toEqual([]);
    expect(rowsOf(configuration({}), root)).toEqual([]);
  });

  it("every address of a release stands in one place, profiles one after the other", () => {
    expect(slotsOf(root).map((slot) => slot.id)).toEqual([
      "system/smooth",
      "tune 1/roll.push",
      "tune 2/roll.push",
      "tune 3/roll.push",
      "tune 1/pitch.push",
      "tune 2/pitch.push",
      "tune 3/pitch.push",
      "system/does",
      "system/pair",
      "system/old",
    ]);
    expect(slotsOf(root)).toBe(slotsOf(root));
    expect(addressId({ scope: "tune 2", key: "roll.push" })).toBe("tune 2/roll.push");
  });
});
