import { tileOf, type TileInput } from "@/bench/tile";

describe("a board that no job runs on", () => {
  it("says what is done with a board outside of a job, and what was filed of it", () => {
    const face = { simBoardId: 3, simLabel: "A board", cable: true };
    const known = { appearance: 1, identity: { chipId: "A-B-C", family: "Heddle", release: "22" } };
    const presence = { kind: "console", port: "port 4", appearance: 1, vendorId: 0x1209, productId: 0x20 } as const;
    const free: TileInput = { face, presence, known, doing: undefined, job: undefined, progress: undefined };
    expect(tileOf(free)).toMatchObject({ mark: "unknown", say: "Answers, Heddle 22. Whose is it?" });
    expect(tileOf({ ...free, doing: "being read out" })).toMatchObject({
      mark: "half",
      say: "Seen, being read out",
      chipId: "A-B-C",
    });
    const filed = { id: 7, name: "Corsley Slate Heddle 22" };
    expect(tileOf({ ...free, known: { ...known, filed } })).toMatchObject({ mark: "unknown", filed });
  });
});
