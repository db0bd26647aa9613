import { changesBetween, type ReleaseChange } from "@/core/compare";
import type { TableRow } from "@/core/config";
import { valueOf } from "@/core/problem";
import {
  madeCatalogue,
  nextRelease,
  number,
  releaseIn,
  setting,
  wholeRelease,
  writtenValues,
} from "../../../tests/support/made";

const column = (name: string, type: object, value: unknown) => ({ name, title: name, type, default: value });
const table = (name: string, area: string, key: object, columns: object[], rows: object[] = []) => ({
  name,
  title: name,
  area,
  maxRows: 8,
  keys: [key],
  columns,
  rows,
});

const PORTS = table(
  "ports",
  "ports",
  column("port", number(1, 8), 1),
  [column("use", { choice: ["free", "radio", "map"] }, "free"), column("speed", number(1, 9), 3)],
  [
    { key: "1", cells: { use: "map" } },
    { key: "2", cells: { use: "radio" } },
  ],
);
const LEVERS = table("levers", "switches", column("slot", number(1, 8), 1), [
  column("does", { choice: ["arm", "hold"] }, "arm"),
  column("from", number(1000, 2000, 10, "µs"), 1700),
]);
const OUTPUTS = table(
  "outputs",
  "outputs",
  column("pad", { text: 4 }, "A"),
  [column("drives", { choice: ["left", "right", "back"] }, "left")],
  [
    { key: "A", cells: { drives: "left" } },
    { key: "B", cells: { drives: "right" } },
    { key: "C", cells: { drives: "back" } },
  ],
);
const OLD = wholeRelease("Rows-1", [setting("a", number(0, 9), 1)], { tables: [PORTS, LEVERS, OUTPUTS] });

const WHY = "So it is now.";
const CYCLE = { rule: "renumber", table: "outputs", rows: { A: "B", B: "C", C: "A" }, why: WHY };
const CYCLED_ROWS = {
  table: "outputs",
  rows: [
    { key: "B", cells: { drives: "left" } },
    { key: "C", cells: { drives: "right" } },
    { key: "A", cells: { drives: "back" } },
  ],
};

function changed(rules: object[], more: object = {}, rows?: readonly TableRow[], back = false): ReleaseChange[] {
  const catalogue = madeCatalogue(OLD, nextRelease("Rows-2", "Rows-1", rules, more));
  const [older, newer] = [releaseIn(catalogue, "Rows-1"), releaseIn(catalogue, "Rows-2")];
  const [from, to] = back ? [newer, older] : [older, newer];
  const used = rows && {
    configuration: writtenValues({}, { rows, begun: ["ports", "levers", "outputs"] }),
    release: from,
  };
  return [...valueOf(changesBetween(from, to, catalogue, used)).changes];
}
const told = (changes: readonly ReleaseChange[]) =>
  changes.map(({ how, title, before, after }) => [how, title, before, after]);

describe("what a release changes in tables", () => {
  it("nothing where no rule, no row and no column changes", () => {
    expect(changed([])).toEqual([]);
  });

  it("case C14: a renumbering means the same name for another; there and back", () => {
    const there = changed([CYCLE], { changeRows: [CYCLED_ROWS] });
    expect(told(there)).toEqual([["behaviour", "outputs A, B, C", "A, B, C", "B, C, A"]]);
    expect(there[0]).toMatchObject({ place: "table outputs", flies: true, why: [WHY] });
    const back = changed([CYCLE], { changeRows: [CYCLED_ROWS] }, undefined, true);
    expect(told(back)).toEqual([["behaviour", "outputs B, C, A", "B, C, A", "A, B, C"]]);
  });

  it("rows of an erased board that were not passed on are silent: nobody wrote them", () => {
    // the rule renumbers, and the erased board follows, unless the release states its rows as they were
    expect(told(changed([CYCLE])).filter(([how]) => how === "silent")).toEqual([]);
    const stated = { changeRows: [{ table: "outputs", rows: OUTPUTS.rows }] };
    expect(told(changed([CYCLE], stated)).filter(([how]) => how === "silent")).toEqual([
      ["silent", "outputs A", "drives back", "drives left"],
      ["silent", "outputs B", "drives left", "drives right"],
      ["silent", "outputs C", "drives right", "drives back"],
    ]);
    const rows = {
      table: "ports",
      rows: [
        { key: "1", cells: { use: "map" } },
        { key: "4", cells: { use: "radio" } },
      ],
    };
    expect(told(changed([], { changeRows: [rows] }))).toEqual([
      ["silent", "ports 2", "use radio, speed 3", "no row"],
      ["silent", "ports 4", "no row", "use radio, speed 3"],
    ]);
  });

  it("case C13: what a port may serve no longer, by rule and by an erased board's row", () => {
    const rules = [{ rule: "restrict", table: "ports", column: "use", value: "radio", on: ["4"], why: WHY }];
    const rows = {
      table: "ports",
      rows: [
        { key: "1", cells: { use: "map" } },
        { key: "4", cells: { use: "radio" } },
      ],
    };
    expect(told(changed(rules, { changeRows: [rows] }))).toEqual([
      ["silent", "ports 2", "use radio, speed 3", "no row"],
      ["silent", "ports 4", "no row", "use radio, speed 3"],
      ["limit", "ports: use radio", "any", "4"],
    ]);
    // an aircraft that has it elsewhere cannot keep it
    const radio = { table: "ports", key: "2", cells: { use: "radio", speed: 3 }, line: 7 };
    expect(told(changed(rules, { changeRows: [rows] }, [radio]))).toEqual([
      ["blocked", "ports 2", "use radio, speed 3", undefined],
    ]);
  });

  it("case C15: positions that mean other values, columns and words with other names", () => {
    const rules = [
      { rule: "ranges", table: "levers", columns: ["from"], factor: 2, offset: -3000, why: WHY },
      { rule: "column", table: "levers", column: "does", to: "action", why: WHY },
      { rule: "cells", table: "levers", column: "does", words: { arm: "arm", hold: "stay" }, why: WHY },
    ];
    const columns = [
      { table: "levers", column: "from", type: number(-1000, 1000, 20, "‰"), default: 400 },
      { table: "levers", column: "action", title: "action", type: { choice: ["arm", "stay"] }, default: "arm" },
    ];
    expect(told(changed(rules, { changeColumns: columns }))).toEqual([
      ["converted", "levers", "from 1700 µs", "from 400 ‰"],
      ["converted", "levers: does", "hold", "stay"],
      ["renamed", "levers", "does", "action"],
    ]);
    const lever = { table: "levers", key: "1", cells: { does: "hold", from: 1500 }, line: 9 };
    expect(told(changed(rules, { changeColumns: columns }, [lever]))).toEqual([
      ["converted", "levers 1", "does hold, from 1500 µs", "action stay, from 0 ‰"],
    ]);
  });

  it("words, numbers and columns that are no longer taken; tables that come and go", () => {
    const columns = [
      { table: "ports", column: "use", type: { choice: ["free", "radio"] }, default: "free" },
      { table: "ports", column: "speed", type: number(2, 9), default: 3 },
    ];
    const lamps = table("lamps", "lights", column("no", number(1, 8), 1), [column("on", { switch: true }, true)]);
    const rows = { table: "ports", rows: [] };
    expect(told(changed([], { changeColumns: columns, changeRows: [rows], tables: [lamps] }))).toEqual([
      ["silent", "ports 1", "use map, speed 3", "no row"],
      ["silent", "ports 2", "use radio, speed 3", "no row"],
      ["limit", "ports: speed", "1 to 9", "2 to 9"],
      ["limit", "ports: use", "map", undefined],
      ["new", "lamps", undefined, undefined],
    ]);
    expect(told(changed([], { tables: [lamps] }, undefined, true))).toEqual([
      ["retired", "lamps", undefined, undefined],
    ]);
  });

  it("of an aircraft's rows only those that are touched; renumbered ones first", () => {
    const output = (key: string, drives: string) => ({ table: "outputs", key, cells: { drives }, line: 3 });
    const rows = [output("A", "left"), output("B", "right"), output("C", "back")];
    expect(told(changed([CYCLE], { changeRows: [CYCLED_ROWS] }, rows))).toEqual([
      ["behaviour", "outputs A", "A", "B"],
      ["behaviour", "outputs B", "B", "C"],
      ["behaviour", "outputs C", "C", "A"],
    ]);
  });
});
