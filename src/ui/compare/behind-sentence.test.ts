import fc from "fast-check";
import { behindSentence } from "@/ui/compare/behind-drift";

const cell = (unsure: boolean) => ({
  ...{ column: "c", shown: "x", standard: "y", flies: false },
  ...(unsure ? { unsure: true } : {}),
});
const rows = fc.array(fc.array(fc.boolean(), { maxLength: 3 }), { minLength: 1, maxLength: 6 });

describe("what is said of the parts behind the boards of a type", () => {
  it("counts as otherwise what is known to be, and only that; what is not known is told by itself", () => {
    fc.assert(
      fc.property(rows, fc.boolean(), (drawn, lacks) => {
        const drift = {
          columns: [],
          rows: drawn.map((unsure, i) => ({ tag: `QW-${i}`, cells: unsure.map(cell) })),
        };
        const unread = lacks ? [{ tag: "QW-0", places: ["rear left"] }] : [];
        const says = behindSentence({ drift, held: 4, read: 4, unread });
        const off = drawn.filter((all) => all.includes(false)).length;
        const open = drawn.filter((all) => all.includes(true)).length;
        expect(/Behind the boards (\d+) of/.exec(says)?.[1]).toBe(off > 0 ? String(off) : undefined);
        expect(says.includes("as the standard.")).toBe(off === 0 && open === 0);
        expect(/Of (\d+) not every value is known/.exec(says)?.[1]).toBe(open > 0 ? String(open) : undefined);
        expect(says.includes("Of 1 not every part is known")).toBe(lacks);
      }),
    );
  });

  it("where nothing was read, or the standard has none, says just that", () => {
    const none = { drift: { columns: [], rows: [] }, unread: [] };
    expect(behindSentence({ ...none, held: 0, read: 0 })).toBe("");
    expect(behindSentence({ ...none, held: 0, read: 3 })).toContain("read out without parts");
    expect(behindSentence({ ...none, held: 4, read: 0 })).toContain("nothing was read");
  });
});
