import { wantsOfParts } from "@/core/part";
import { catalogue, release } from "../../../tests/support/workshop";

describe("case C37, case C39: what other parts must run", () => {
  const weft = release("weft-9");

  it("is told where the release before did not want it so, with why, for a board that carries the part", () => {
    const [processor, controllers] = wantsOfParts(weft, release("heddle-22"), "pellow-weir", catalogue());
    expect(processor).toContain("Weft 9 drives Pirn 5 to 6 on its co-processor.");
    expect(controllers).toContain("Spindle 44 or later on its speed controllers");
    expect(controllers).toContain("Reports of current came with 44.");
  });

  it("says that a part is missing which other models carry", () => {
    const [processor] = wantsOfParts(weft, release("heddle-22"), "corsley-slate", catalogue());
    expect(processor).toContain("this board has none");
  });

  it("names what the release before drove, and nothing where both want the same, nor the loader", () => {
    expect(wantsOfParts(weft, weft, "pellow-weir", catalogue())).toEqual([]);
    const older = { ...weft, requires: [{ part: "co-processor", family: "Pirn", least: 4, most: 4 }] };
    expect(wantsOfParts(weft, older, "pellow-weir", catalogue())[0]).toContain("; Weft 9 drove 4.");
    const loader = { ...weft, requires: [{ part: "loader", family: "Batten", least: 3 }] };
    expect(wantsOfParts(loader, undefined, "pellow-weir", catalogue())).toEqual([]);
  });
});
