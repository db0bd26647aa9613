import fc from "fast-check";
import { ValidationError } from "yup";
import { fittingShape } from "@/contracts/fitting";

const good = { part: "speed controllers", title: "speed controller", places: ["front", "rear"], supply: ["battery"] };

describe("what somebody says is fitted", () => {
  it("names one supply for all places, or one for each", () => {
    for (const supply of [["board"], ["battery", "second battery"]])
      expect(fittingShape.validateSync({ ...good, supply }).supply).toEqual(supply);
    for (const supply of [[], ["third battery"], ["board", "board", "board"]])
      expect(() => fittingShape.validateSync({ ...good, supply })).toThrow(ValidationError);
    // none of the kind any more
    expect(fittingShape.validateSync({ ...good, places: [] }).places).toEqual([]);
  });

  it("is refused in words, whatever stands there or is missing: it never throws anything else", () => {
    const any = fc.oneof(fc.constant(undefined), fc.constant(null), fc.jsonValue());
    fc.assert(
      fc.property(fc.record({ places: any, supply: any, part: any, title: any, target: any }), (drawn) => {
        try {
          fittingShape.validateSync({ ...good, ...drawn });
        } catch (error) {
          expect(error).toBeInstanceOf(ValidationError);
        }
      }),
    );
    for (const left of ["places", "supply", "part", "title"])
      expect(() => fittingShape.validateSync({ ...good, [left]: undefined })).toThrow(ValidationError);
  });
});
