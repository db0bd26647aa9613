import fc from "fast-check";
import {
  AREA_GROUPS,
  AREAS,
  equalValues,
  formatValue,
  limitValue,
  parseValue,
  quantize,
  showValue,
  type Spelling,
  type Value,
  type ValueType,
} from "@/core/config";

const POINT: Spelling = { decimalMark: ".", on: "yes", off: "no", listMark: "+", empty: "nothing" };
const COMMA: Spelling = { ...POINT, decimalMark: "," };
const STEPS = [0.001, 0.01, 0.1, 0.25, 0.5, 1, 5, 10];

const numberTypes: fc.Arbitrary<Extract<ValueType, { kind: "number" }>> = fc
  .record({
    step: fc.constantFrom(...STEPS),
    low: fc.integer({ min: -500, max: 0 }),
    width: fc.integer({ min: 1, max: 1000 }),
  })
  .map(({ step, low, width }) => ({
    kind: "number",
    min: quantize(low * step, step),
    max: quantize((low + width) * step, step),
    step,
  }));

const FLAGS: ValueType = { kind: "flags", options: ["level", "receiver", "battery"] };
const CHOICE: ValueType = { kind: "choice", options: ["gentle", "steep"] };
const TEXT: ValueType = { kind: "text", maxLength: 8 };
const SWITCH: ValueType = { kind: "switch" };

describe("numbers", () => {
  it("written and read again are the same, in either notation", () => {
    fc.assert(
      fc.property(
        numberTypes,
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.constantFrom(POINT, COMMA),
        (type, share, spelling) => {
          const value = limitValue(type.min + share * (type.max - type.min), type) as number;
          const back = parseValue(formatValue(value, type, spelling), type, spelling);
          expect(back.ok && equalValues(back.value, value, type)).toBe(true);
        },
      ),
    );
  });

  it("are multiples of their step, without binary dust", () => {
    fc.assert(
      fc.property(fc.constantFrom(...STEPS), fc.integer({ min: -10_000, max: 10_000 }), (step, n) => {
        const value = quantize(n * step, step);
        expect(String(value).length).toBeLessThan(10);
        expect(quantize(value, step)).toBe(value);
      }),
    );
  });

  it("limiting never leaves the range, and leaves what is inside alone", () => {
    fc.assert(
      fc.property(numberTypes, fc.double({ min: -1e6, max: 1e6, noNaN: true }), (type, any) => {
        const value = limitValue(any, type) as number;
        expect(value).toBeGreaterThanOrEqual(type.min);
        expect(value).toBeLessThanOrEqual(type.max);
        expect(limitValue(value, type)).toBe(value);
      }),
    );
  });

  it.each(["1,5", "1.5.2", "", ".", "-", "0x12", "1e5", "12 Hz", "NaN", "１２", "9".repeat(30)])(
    "“%s” is refused with a decimal point, not guessed",
    (text) => {
      const result = parseValue(text, { kind: "number", min: 0, max: 100, step: 0.1 }, POINT);
      expect(!result.ok && result.problem.code).toBe("value-not-number");
    },
  );

  it("are read to the last bit as the language itself reads them, however many digits they have", () => {
    const wide: ValueType = { kind: "number", min: -1e9, max: 1e9, step: 1 };
    const digits = fc.string({ unit: fc.nat(9).map(String), maxLength: 11 });
    fc.assert(
      fc.property(fc.constantFrom("", "-", "+"), digits, fc.boolean(), digits, (sign, whole, marked, share) => {
        const text = `${sign}${whole}${marked ? "." : ""}${share}`;
        fc.pre(whole + share !== "");
        expect(parseValue(text, wide, POINT)).toEqual({ ok: true, value: Number(text) });
        expect(parseValue(text.replace(".", ","), wide, COMMA)).toEqual({ ok: true, value: Number(text) });
      }),
    );
  });

  it("outside the range they are read as they are: a backup says what was on the board", () => {
    expect(parseValue("900", { kind: "number", min: 0, max: 100, step: 1 }, POINT)).toEqual({ ok: true, value: 900 });
  });
});

describe("words, switches, flags and texts", () => {
  it.each<[Value, ValueType, string, string]>([
    [true, SWITCH, "yes", "on"],
    [false, SWITCH, "no", "off"],
    ["steep", CHOICE, "steep", "steep"],
    [["level", "battery"], FLAGS, "level+battery", "level, battery"],
    [[], FLAGS, "nothing", "none"],
    ["", TEXT, "nothing", "empty"],
    ["fen 1", TEXT, "fen 1", "fen 1"],
  ])("%j is written, read and shown", (value, type, written, shown) => {
    expect(formatValue(value, type, POINT)).toBe(written);
    expect(parseValue(written, type, POINT)).toEqual({ ok: true, value });
    expect(showValue(value, type)).toBe(shown);
  });

  it.each([
    ["on", SWITCH, "value-not-switch"],
    ["steepest", CHOICE, "value-not-choice"],
    ["level+dove", FLAGS, "value-not-flag"],
    ["nine letters", TEXT, "value-too-long"],
  ] as const)("“%s” is refused", (text, type, code) => {
    const result = parseValue(text, type, POINT);
    expect(!result.ok && result.problem.code).toBe(code);
  });

  it("a choice's other words mean the same, and what is written is always the one", () => {
    const type: ValueType = { kind: "choice", options: ["sink", "come-back"], aliases: { home: "come-back" } };
    for (const text of ["come-back", "home"])
      expect(parseValue(text, type, POINT)).toEqual({ ok: true, value: "come-back" });
    expect(parseValue("HOME", type, { ...POINT, anyCase: true })).toEqual({ ok: true, value: "come-back" });
    expect(parseValue("HOME", type, POINT).ok).toBe(false);
    expect(formatValue("come-back", type, POINT)).toBe("come-back");
  });

  const NUMBERED: Spelling = { ...POINT, choicesFrom: 1, flagsAsBits: true, decimals: "fewest" };

  it.each<[Value, ValueType, string]>([
    ["gentle", CHOICE, "1"],
    ["steep", CHOICE, "2"],
    [[], FLAGS, "0"],
    [["level", "battery"], FLAGS, "5"],
    [12.5, { kind: "number", min: 0, max: 99, step: 0.001 }, "12.5"],
    [20, { kind: "number", min: 0, max: 99, step: 0.1 }, "20"],
    [-0.25, { kind: "number", min: -9, max: 99, step: 0.01 }, "-0.25"],
  ])("%j as numbers: a choice by its place, flags by their bits, as few decimals as say it", (value, type, written) => {
    expect(formatValue(value, type, NUMBERED)).toBe(written);
    expect(parseValue(written, type, NUMBERED)).toEqual({ ok: true, value });
  });

  it.each([
    ["0", CHOICE],
    ["3", CHOICE],
    ["steep", CHOICE],
    ["8", FLAGS],
    ["-1", FLAGS],
    ["1.5", FLAGS],
    ["level", FLAGS],
    ["", FLAGS],
  ])("“%s” is no place and no set of bits there", (text, type) => {
    expect(parseValue(text, type, NUMBERED).ok).toBe(false);
  });

  it("the bits of flags are written in the base of the language", () => {
    const hex: Spelling = { ...NUMBERED, base: 16, prefix: "0x" };
    expect(formatValue(["level", "receiver"], FLAGS, { ...hex, width: 4 })).toBe("0x0003");
    expect(parseValue("0x0006", FLAGS, hex)).toEqual({ ok: true, value: ["receiver", "battery"] });
  });

  it("flags are equal in any order; a word without counterpart has no limit", () => {
    expect(equalValues(["a", "b"], ["b", "a"], FLAGS)).toBe(true);
    expect(equalValues(["a"], ["a", "b"], FLAGS)).toBe(false);
    expect(limitValue("steepest", CHOICE)).toBeUndefined();
    expect(limitValue(["level", "dove"], FLAGS)).toEqual(["level"]);
    expect(limitValue("a long text", TEXT)).toBe("a long t");
  });
});

it("every area stands in exactly one group", () => {
  expect(new Set(AREAS).size).toBe(AREAS.length);
  expect(Object.keys(AREA_GROUPS)).toEqual(["Wiring", "Handling", "Safety", "Watching", "Upkeep"]);
});
