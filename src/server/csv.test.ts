import fc from "fast-check";
import Papa from "papaparse";
import { csvOf } from "@/server/csv";

const START = /(?:^|[;|\t\r\n])[^\S\t\r\n]*[=+\-@＝＋－＠]/;
const read = (text: string) => Papa.parse<Record<string, string>>(text, { header: true }).data;

/** Texts that somebody would write who wants a spreadsheet to run something. */
const hostile = fc
  .tuple(
    fc.constantFrom("", " ", "\t", "\r", "\n", "\u00a0", ";", "x;", "a\n", "|"),
    fc.constantFrom("=", "+", "-", "@", "＝", "=-", "@=", "-+"),
    fc.constantFrom('cmd|" /c calc"!A1', "1+1", "SUM(A1)", "HYPERLINK(1)", "", "2 m/s", "x"),
  )
  .map((parts) => parts.join(""));

describe("a table that leaves the workshop", () => {
  it("has no cell and no head that a spreadsheet would run, whatever stands in it", () => {
    fc.assert(
      fc.property(fc.oneof(hostile, fc.string()), fc.oneof(hostile, fc.string()), (head, cell) => {
        const name = head.trim() === "" ? "name" : head;
        const rows = Papa.parse<string[]>(csvOf([{ [name]: cell, end: "x" }])).data;
        for (const found of rows.flat())
          expect([
            found,
            START.test(found) && !/^[-+]?\d[\d.]*(?:e[-+]?\d+)?(?: [^\s=+@|!()-]{1,12})?$/i.test(found),
          ]).toEqual([found, false]);
      }),
      { numRuns: 2000 },
    );
  });

  it("keeps numbers numbers, with their units and signs", () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        expect(Number(read(csvOf([{ value }]))[0]?.value)).toBe(value);
        expect(read(csvOf([{ value: String(value) }]))[0]?.value).toBe(String(value));
      }),
    );
    expect(read(csvOf([{ a: "-3 °", b: "+2.5 m/s", c: -4 }]))[0]).toEqual({ a: "-3 °", b: "+2.5 m/s", c: "-4" });
  });

  it("changes nothing else: what is no formula comes back as it was", () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        if (START.test(text)) return;
        expect(read(csvOf([{ text, end: "x" }]))[0]?.text).toBe(text);
      }),
    );
  });
});
