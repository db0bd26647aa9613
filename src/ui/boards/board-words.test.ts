import fc from "fast-check";
import { numberIn, numbersIn, sectorsIn } from "@/ui/boards/board-words";

describe("what people write of a board", () => {
  it("lists of numbers, with stretches, in any order", () => {
    expect(numbersIn("1-3, 5")).toEqual([1, 2, 3, 5]);
    expect(numbersIn("")).toEqual([]);
    for (const text of ["a", "3-1", "1-", "-1", "1.5", "0-99999"])
      expect([text, numbersIn(text)]).toEqual([text, undefined]);
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(500), { maxLength: 40 }), fc.constantFrom(", ", " ", ","), (numbers, mark) => {
        expect(numbersIn(numbers.join(mark))).toEqual(numbers.toSorted((a, b) => a - b));
      }),
    );
  });

  it("runs of sectors, in bytes, kilobytes or megabytes", () => {
    expect(sectorsIn("4 x 16 KB\n1 × 64 KB\n7x128kb")).toEqual([
      { count: 4, sizeBytes: 16_384 },
      { count: 1, sizeBytes: 65_536 },
      { count: 7, sizeBytes: 131_072 },
    ]);
    expect(sectorsIn("160 x 2048")).toEqual([{ count: 160, sizeBytes: 2048 }]);
    for (const text of ["", "x", "4 x", "4 x 16 GB", "four x 16 KB", "4 x 16 KB\nand more"])
      expect([text, sectorsIn(text)]).toEqual([text, undefined]);
  });

  it("addresses and ids, as hex or decimal, no larger than they may be", () => {
    expect([numberIn("0x08000000"), numberIn(" 4617 ", 0xffff), numberIn("0X1209", 0xffff)]).toEqual([
      0x08000000, 4617, 0x1209,
    ]);
    for (const text of ["", "0x", "1209h", "-1", "70000"])
      expect([text, numberIn(text, 0xffff)]).toEqual([text, undefined]);
  });
});
