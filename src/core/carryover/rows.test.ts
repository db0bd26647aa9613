import type { TableRow, Value } from "@/core/config";
import { rowItems } from "@/core/carryover/rows";
import { routeBetween } from "@/core/carryover/route";
import { valueOf } from "@/core/problem";
import { madeCatalogue, nextRelease, number, releaseIn, setting, wholeRelease } from "../../../tests/support/made";

const table = (name: string, area: string, columns: object[], rows: object[]) => ({
  name,
  title: name,
  area,
  maxRows: 8,
  keys: [{ name: "pad", title: "Pad", type: { text: 8 }, default: "M1" }],
  columns,
  rows,
});
const ROOT = wholeRelease("root-1", [setting("a", number(0, 9), 1)], {
  tables: [
    table(
      "outputs",
      "outputs",
      [
        { name: "drives", title: "Drives", type: { choice: ["front", "back", "side", "servo"] }, default: "front" },
        { name: "pulse", title: "Pulse", type: number(1000, 2000, 10, "µs"), default: 1500 },
      ],
      [{ key: "M1", cells: { drives: "front" } }],
    ),
  ],
});

/** What becomes of rows over one passage with these rules. */
function carry(
  rules: object[],
  rows: readonly (readonly [key: string, cells: Record<string, Value>])[],
  more: object = {},
  begun?: readonly string[],
) {
  const catalogue = madeCatalogue(ROOT, nextRelease("root-2", "root-1", rules, more));
  const [from, to] = [releaseIn(catalogue, "root-1"), releaseIn(catalogue, "root-2")];
  const source = {
    identity: {},
    settings: [],
    rows: rows.map(([key, cells], i): TableRow => ({ table: "outputs", key, cells, line: i + 1 })),
    active: {},
    unknown: [],
    ...(begun === undefined ? {} : { begun }),
  };
  return rowItems(source, from, valueOf(routeBetween(catalogue, from, to)), to);
}

describe("rows over a passage", () => {
  it("go over as they are where no rule speaks of them", () => {
    expect(carry([], [["M1", { drives: "back", pulse: 1400 }]])).toMatchObject([
      { outcome: "as-it-was", to: { key: "M1", cells: { drives: "back", pulse: 1400 } } },
    ]);
  });

  it("columns are renamed and their words mapped, both told", () => {
    const [item] = carry(
      [
        { rule: "column", table: "outputs", column: "drives", to: "moves", why: "Renamed." },
        {
          rule: "cells",
          table: "outputs",
          column: "drives",
          words: { front: "fore", back: "aft", side: "side", servo: "servo" },
          why: "Words.",
        },
      ],
      [["M1", { drives: "back" }]],
      {
        changeColumns: [
          { table: "outputs", column: "moves", type: { choice: ["fore", "aft", "side", "servo"] }, default: "fore" },
        ],
      },
    );
    expect(item).toMatchObject({ outcome: "converted", to: { cells: { moves: "aft" } } });
    expect(item?.trail.map((step) => [step.rule, step.before, step.after])).toEqual([
      ["column", "drives", "moves"],
      ["cells", "back", "aft"],
    ]);
  });

  it("case C14: keys change by a cycle, each row once", () => {
    const items = carry(
      [{ rule: "renumber", table: "outputs", rows: { M1: "M2", M2: "M3", M3: "M1" }, why: "Counted anew." }],
      ["M1", "M2", "M3", "M4"].map((key) => [key, { drives: "front" }] as const),
    );
    expect(items.map((item) => [item.from?.key, item.to?.key, item.outcome])).toEqual([
      ["M1", "M2", "converted"],
      ["M2", "M3", "converted"],
      ["M3", "M1", "converted"],
      ["M4", "M4", "as-it-was"],
    ]);
    expect(new Set(items.map((item) => item.id)).size).toBe(4);
  });

  it("case C13: a use that is possible on some keys only ends elsewhere, with where it stands and what is possible", () => {
    const [free, bound] = carry(
      [
        {
          rule: "restrict",
          table: "outputs",
          column: "drives",
          value: "servo",
          on: ["S1"],
          why: "Servos have pads of their own.",
        },
      ],
      [
        ["S1", { drives: "servo" }],
        ["M2", { drives: "servo" }],
      ],
    );
    expect(free?.outcome).toBe("as-it-was");
    expect(bound).toMatchObject({
      outcome: "cannot-be-here",
      trail: [{ why: "Servos have pads of their own. It stands on M2; possible: S1" }],
    });
    expect(bound?.to).toBeUndefined();
    // S1 is taken by a row that may not stand on M2 in turn: what is left is to leave it off, by a lead's name
    expect(bound?.choices).toMatchObject([
      { id: "leave-off", by: "lead", means: "outputs M2 (servo) does not work on root 2 then." },
    ]);
  });

  it("positions are converted, rounded to the step and kept within the range", () => {
    const items = carry(
      [
        {
          rule: "ranges",
          table: "outputs",
          columns: ["pulse"],
          factor: 2,
          offset: -3000,
          why: "Shares of the travel.",
        },
      ],
      [
        ["M1", { pulse: 1500 }],
        ["M2", { pulse: 1990 }],
      ],
      { changeColumns: [{ table: "outputs", column: "pulse", type: number(-900, 900, 50, "‰"), default: 0 }] },
    );
    expect(items.map((item) => item.to?.cells.pulse)).toEqual([0, 900]);
    expect(items[0]?.trail[0]).toMatchObject({ before: "pulse 1500 µs", after: "pulse 0 ‰" });
  });

  it("words that the destination lacks, and tables that it lacks, end with their reason", () => {
    const [lost] = carry([], [["M1", { drives: "side" }]], {
      changeColumns: [{ table: "outputs", column: "drives", type: { choice: ["front", "back"] }, default: "front" }],
    });
    expect(lost).toMatchObject({ outcome: "cannot-be-here", trail: [{ why: "root 2 does not offer drives: side" }] });
  });

  it("case C03: rows that were never written are those of a freshly erased board, and travel too", () => {
    expect(carry([], [], {}, []).map((item) => [item.from?.key, item.from?.line])).toEqual([["M1", 0]]);
    expect(carry([], [], {}, ["outputs"])).toEqual([]);
  });
});
