import fc from "fast-check";
import { spreadOf } from "../performance/spread";

describe("a page of figures that was made several times", () => {
  it("tells a figure that wandered as its median, with the lowest and the highest", () => {
    expect(spreadOf([["| a | 1.02 × | ≤ 2 × |"], ["| a | 0.98 × | ≤ 2 × |"], ["| a | 10.5 × | ≤ 2 × |"]])).toEqual([
      "| a | 1.02 (0.98 to 10.5) × | ≤ 2 × |",
    ]);
  });

  it("whatever order the rounds came in, the page is the same, and what did not wander stands as it was", () => {
    const rounds = fc.array(fc.tuple(fc.nat(999), fc.nat(999)), { minLength: 1, maxLength: 7 });
    fc.assert(
      fc.property(rounds, (figures) => {
        const pages = figures.map(([a, b]) => [`of 5 kinds ${a}.5 ms`, "", `and ${b}`]);
        const page = spreadOf(pages);
        expect(spreadOf(pages.toReversed())).toEqual(page);
        const lowest = Math.min(...figures.map(([, b]) => b));
        expect(page[2]).toContain(` ${lowest}`.slice(figures.every(([, b]) => b === lowest) ? 0 : 1));
        expect(page[0]).toMatch(/^of 5 kinds /);
      }),
    );
  });

  it("refuses pages that are not of the same thing", () => {
    expect(() => spreadOf([["a 1"], ["b 1"]])).toThrow("line 1");
    expect(() => spreadOf([["a 1"], ["a 1", "b 2"]])).toThrow("line 1");
  });
});
