import { pacedClock } from "@/bench/paced-clock";
import { tileOf, type TileInput } from "@/bench/tile";
import { linkTo } from "@/core/sim";
import { makeBoard } from "../support/workshop";

describe("a board that no job runs on", () => {
  it("says what is done with a board outside of a job, and what was filed of it", async () => {
    const { board } = await makeBoard();
    const clock = pacedClock(0, 1);
    const stored = { id: 3, label: "A board", chip_id: "A-B-C", model_id: "corsley-slate", first_port: 1 };
    const seat = {
      row: { ...stored, bench_id: null, bay_no: null, clock_us: "0", snapshot: {} },
      board,
      clock,
      link: linkTo(board, clock),
    };
    const known = { port: "port 4", identity: { chipId: "A-B-C", family: "Heddle", release: "22" } };
    const presence = { kind: "console", port: "port 4", vendorId: 0x1209, productId: 0x20 } as const;
    const free: TileInput = { seat, presence, known, doing: undefined, job: undefined, progress: undefined };
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
