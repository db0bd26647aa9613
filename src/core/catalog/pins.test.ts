import { madeCatalogue, nextRelease, number, setting, wholeRelease } from "../../../tests/support/made";

const PINS = {
  outputs: { table: "outs", use: "drives" },
  ports: { table: "ports", use: "use", receiver: "ear" },
  nothing: ["idle"],
  mounted: "board.turned",
};
const why = "So.";
const table = (name: string, column: string, words: readonly string[]) => ({
  name,
  title: name,
  area: "ports",
  maxRows: 8,
  keys: [{ name: "at", title: "At", type: number(1, 8), default: 1 }],
  columns: [{ name: column, title: column, type: { choice: words }, default: "idle" }],
  rows: [],
});
const first = (more: object) => ({
  ...wholeRelease("one-1", [setting("turned", number(0, 270), 0, { concept: { id: "board.turned" } })]),
  tables: [table("outs", "drives", ["idle", "motor"]), table("ports", "use", ["idle", "ear"])],
  ...more,
});
const drawn = { pictures: [{ kind: "pads", title: "Pads", ...PINS }] };
const pinsOf = (...documents: object[]) => {
  const built = madeCatalogue(...documents);
  return [...built.releases.values()].map(({ pins }) => pins);
};

describe("the pins of a release", () => {
  it("are said by themselves, or by a drawing in documents from before", () => {
    expect(pinsOf(first({ pins: PINS }))).toEqual([PINS]);
    expect(pinsOf(first(drawn))).toEqual([PINS]);
  });

  it("are passed by rules, also where a release draws pictures of its own", () => {
    const rules = [
      { rule: "column", table: "outs", column: "drives", to: "moves", why },
      { rule: "cells", table: "ports", column: "use", words: { ear: "listens", idle: "free" }, why },
    ];
    const ports = {
      ...{ changeColumns: [{ table: "ports", column: "use", type: { choice: ["free", "listens"] } }] },
    };
    const later = {
      ...PINS,
      outputs: { table: "outs", use: "moves" },
      ports: { table: "ports", use: "use", receiver: "listens" },
      nothing: ["idle", "free"],
    };
    for (const own of [{}, { pictures: [] }])
      expect(pinsOf(first(drawn), nextRelease("one-2", "one-1", rules, { ...ports, ...own }))).toEqual([PINS, later]);
  });

  it("that point nowhere are refused by name", () => {
    const refusal = (pins: object) => {
      try {
        madeCatalogue(first({ pins }));
        return "";
      } catch (error) {
        return error instanceof Error ? error.message : "";
      }
    };
    const odd = [
      { ...PINS, outputs: { table: "nowhere", use: "drives" } },
      { ...PINS, ports: { table: "ports", use: "nothing-here" } },
      { ...PINS, ports: { ...PINS.ports, receiver: "eye" } },
      { ...PINS, mounted: "no.such" },
      { ...PINS, nothing: ["void"] },
      { ...PINS, tables: { LED: "lights" } },
    ];
    expect(
      odd.map(refusal).filter((message) => !message.includes("The pins name what the release does not have")),
    ).toEqual([]);
  });
});
