import { buildCatalogue, checkDocument, keptCatalogue } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { buildFrom, nextRelease, number, setting, wholeRelease } from "../../../tests/support/made";

const TABLE = {
  name: "ports",
  title: "Port",
  area: "ports",
  maxRows: 4,
  keys: [{ name: "port", title: "Port", type: number(1, 4), default: 1 }],
  columns: [
    { name: "use", title: "Use", type: { choice: ["idle", "ear"] }, default: "idle" },
    { name: "rate", title: "Rate", type: number(0, 100), default: 0 },
  ],
  rows: [{ key: "2", cells: { use: "ear" } }],
  without: [{ column: "use", value: "ear", says: "Nobody hears." }],
};
const OLD = wholeRelease(
  "Test-1",
  [
    setting("a", number(0, 100, 1, "m"), 10),
    setting("b", number(0, 100, 1, "m"), 20),
    setting("far", number(0, 100, 1, "km"), 20),
    setting("word", { choice: ["left", "right"] }, "left"),
    setting("in-tune", number(0, 100), 5, { scope: "tune" }),
  ],
  { tables: [TABLE], profiles: [{ kind: "tune", title: "Tune", count: 2 }] },
);
const A = setting("joined", number(0, 100, 1, "m"), 10);
const why = "So.";
const table = { table: "ports", why };

/** What a release that follows is refused for, if it is. */
const refusal = (rules: object[], more: object = {}) => {
  const built = buildFrom(OLD, nextRelease("Test-2", "Test-1", rules, more));
  return built.ok ? "taken" : `${built.problem.message}: ${built.problem.detail ?? ""}`;
};

describe("rules that say what cannot be", () => {
  it.each<[string, object[], object]>([
    ["lacks: rename: nobody", [{ rule: "rename", key: "nobody", to: "x" }], {}],
    ["leads to a setting that Test-2 lacks", [{ rule: "split", key: "a", into: ["x", "y"], why }], {}],
    ["is defined twice", [{ rule: "rename", key: "a", to: "b" }], { change: [] }],
    [
      "of another kind or unit",
      [{ rule: "merge", keys: ["a", "far"], to: "joined", take: "first", why }],
      { add: [A] },
    ],
    [
      "two names",
      [
        { rule: "rename", key: "a", to: "x" },
        { rule: "rescale", key: "a", to: "y", factor: 2, why },
      ],
      {},
    ],
    [
      "of one kind speak of one setting",
      [
        { rule: "rescale", key: "a", factor: 2, why },
        { rule: "rescale", key: "a", factor: 3, why },
      ],
      {},
    ],
    ["takes something for a number", [{ rule: "rescale", key: "word", factor: 2, why }], {}],
    ["maps words of what has none", [{ rule: "map", key: "a", words: { "1": "2" }, why }], {}],
    ["a word that there is not", [{ rule: "map", key: "word", words: { left: "up" }, why }], {}],
    ["stands in an unknown scope", [{ rule: "move", key: "a", to: "feel", why }], {}],
    [
      "no rule moves it",
      [{ rule: "split", key: "in-tune", into: ["joined", "other"], why }],
      { add: [setting("joined", number(0, 100), 1), setting("other", number(0, 100), 1)] },
    ],
    ["a part that no split makes", [{ rule: "rescale", key: "a", part: "x", factor: 2, why }], {}],
    ["a table that there is not", [{ rule: "column", table: "no", column: "use", to: "does", why }], {}],
    ["a column that there is not", [{ rule: "column", ...table, column: "no", to: "does" }], {}],
    ["a word that there is not", [{ rule: "cells", ...table, column: "use", words: { eye: "ear" } }], {}],
    ["takes a column for numbers", [{ rule: "ranges", ...table, columns: ["use"], factor: 2 }], {}],
    ["a key that there cannot be", [{ rule: "restrict", ...table, column: "use", value: "ear", on: ["9"] }], {}],
    ["Two keys become one", [{ rule: "renumber", ...table, rows: { "1": "2", "3": "4" } }], {}],
    ["A column is defined twice", [{ rule: "column", ...table, column: "use", to: "rate" }], {}],
  ])("%s", (says, rules, more) => {
    expect(refusal(rules, more)).toContain(says);
  });

  it("what converts is taken: a source of another unit with a rescale of its own, before or after it stands", () => {
    const merge = { rule: "merge", keys: ["a", "far"], to: "joined", take: "first", why };
    const rescale = { rule: "rescale", key: "far", factor: 1000, why };
    expect([refusal([merge, rescale], { add: [A] }), refusal([rescale, merge], { add: [A] })]).toEqual([
      "taken",
      "taken",
    ]);
  });
});

describe("names that point at another's name", () => {
  it("follow it: words and columns of pictures, default rows, what does not work without a row, targets", () => {
    const pins = {
      outputs: { table: "ports", use: "use" },
      ports: { table: "ports", use: "use", receiver: "ear" },
      nothing: ["idle"],
    };
    const first = {
      ...OLD,
      pins,
      pictures: [{ kind: "pads", title: "Pads" }],
      settings: [setting("a", number(0, 100), 10, { defaultByTarget: { T1: 12 } })],
    };
    const built = valueOf(
      buildFrom(
        first,
        nextRelease(
          "Test-2",
          "Test-1",
          [
            { rule: "column", ...table, column: "use", to: "does" },
            { rule: "cells", ...table, column: "use", words: { ear: "listens", idle: "free" } },
            { rule: "renumber", ...table, rows: { "2": "3", "3": "2" } },
          ],
          {
            changeColumns: [{ table: "ports", column: "does", type: { choice: ["free", "listens"] } }],
            targets: [{ id: "T-NEW", aliases: ["T1"], processor: "P", gyro: "G", ports: [1], pads: {} }],
          },
        ),
      ),
    );
    const release = built.releases.get("Test-2");
    expect(release?.pictures).toEqual([{ kind: "pads", title: "Pads" }]);
    expect(release?.pins).toEqual({
      outputs: { table: "ports", use: "does" },
      ports: { table: "ports", use: "does", receiver: "listens" },
      nothing: ["free"],
    });
    expect(release?.tables[0]).toMatchObject({
      rows: [{ key: "3", cells: { does: "listens" } }],
      without: [{ column: "does", value: "listens" }],
      columns: [{ name: "does", default: "free" }, { name: "rate" }],
    });
    expect(release?.settings[0]?.defaultByTarget).toEqual({ "T-NEW": 12 });
  });

  it.each<[string, object]>([
    ["A picture names", { pictures: [{ kind: "smoothing", title: "S", frequency: "no.such" }] }],
    ["names a column that there is not", { tables: [{ ...TABLE, rows: [{ key: "1", cells: { no: 1 } }] }] }],
    ["a key that there cannot be", { tables: [{ ...TABLE, rows: [{ key: "9", cells: {} }] }] }],
    ["does not take", { tables: [{ ...TABLE, rows: [{ key: "1", cells: { use: "eye" } }] }] }],
    ["speaks of no such row", { tables: [{ ...TABLE, without: [{ column: "use", value: "eye", says: "x" }] }] }],
    ["cannot hold", { starters: [{ name: "s", airframe: "s", values: [{ key: "a", value: 900 }] }] }],
    ["does not have", { starters: [{ name: "s", airframe: "s", values: [{ key: "a", scope: "tune 1", value: 9 }] }] }],
    ["a target that there is not", { settings: [setting("a", number(0, 100), 10, { defaultByTarget: { NONE: 1 } })] }],
  ])("%s: refused where it points nowhere", (says, more) => {
    const built = buildFrom({ ...OLD, ...more });
    expect(built.ok ? "taken" : built.problem.message).toContain(says);
  });

  it("what a workshop took in before it was asked for stays in; what comes in now is asked", () => {
    const odd = [
      OLD,
      nextRelease("Test-2", "Test-1", [{ rule: "merge", keys: ["a", "far"], to: "joined", take: "first", why }], {
        add: [A],
      }),
    ];
    const documents = odd.map((each) => valueOf(checkDocument(structuredClone(each))));
    expect([buildCatalogue(documents).ok, keptCatalogue(documents).ok]).toEqual([false, true]);
    expect(buildCatalogue(documents, new Set(["Test-2"])).ok).toBe(true);
  });
});
