import { foldJob, type Entry, type StepName } from "@/core/job";
import { tileOf, type TileInput } from "@/bench/tile";
import type { JobRow } from "@/server/repositories/jobs";

const steps: JobRow["steps"] = [
  { id: "plan", title: "Plan the carry-over", why: "" },
  { id: "flash", title: "Write Heddle 23", why: "" },
];
const row: JobRow = {
  id: 118,
  bench_id: 1,
  bay_no: 1,
  aircraft_id: 1,
  tag: "QW-01",
  chip_id: "4A17-0C22-91FE",
  goal: { kind: "update", runs: { main: "heddle-23" } },
  steps,
  state: "open",
  headline: "Update to Heddle 23",
  ordered_by: "technician",
  ordered_at: new Date(0),
  ended_at: null,
  documents: null,
};
const console1 = { kind: "console", port: "port 4", appearance: 1, vendorId: 0x1209, productId: 0x20 } as const;
const bare: TileInput = {
  face: undefined,
  presence: { kind: "none" },
  known: undefined,
  doing: undefined,
  job: undefined,
  progress: undefined,
};
const state = (...entries: Entry[]) =>
  foldJob(
    steps,
    entries.map((entry, no) => ({ no, at: 0, account: null, entry })),
  );
const job = (...entries: Entry[]): TileInput => ({ ...bare, job: { row, state: state(...entries) } });
const waits = (need: Extract<Entry, { kind: "waits" }>["need"], step: StepName = "plan"): Entry => ({
  kind: "waits",
  step,
  need,
});

describe("what a bay shows", () => {
  it("is empty without a board", () => {
    expect(tileOf(bare)).toEqual({ mark: "none", say: "Empty" });
  });

  it.each<[string, TileInput, string, string]>([
    ["decisions", job(waits({ kind: "decisions", open: 3, say: "x" })), "call", "Waits for you: 3 decisions"],
    ["one decision", job(waits({ kind: "decisions", open: 1, say: "x" })), "call", "Waits for you: 1 decision"],
    [
      "hands",
      job(waits({ kind: "confirm", say: "x", asks: [], word: "Done" })),
      "call",
      "Waits for your hands: Plan the carry-over",
    ],
    [
      "a board that went away",
      job(waits({ kind: "board", say: "x", asks: ["Unplug it", "plug it in"] })),
      "look",
      "Unplug it, then plug it in",
    ],
    ["a signature", job(waits({ kind: "sign", say: "x" })), "call", "Waits for your signature"],
    [
      "a problem",
      job({ kind: "failed", step: "plan", problem: { code: "x", message: "The console does not answer" } }),
      "no",
      "The console does not answer",
    ],
    ["work without a bar", job({ kind: "started", step: "plan" }), "half", "Plan the carry-over"],
    [
      "all done",
      job(
        { kind: "done", step: "plan", evidence: "", data: {} },
        { kind: "done", step: "flash", evidence: "", data: {} },
      ),
      "ok",
      "Done",
    ],
  ])("names %s", (_name, input, mark, say) => {
    expect(tileOf(input)).toMatchObject({ mark, say, tag: "QW-01", job: { id: 118 } });
  });

  it("tells a bar with what is left", () => {
    const writing = {
      ...job({ kind: "started", step: "flash" }),
      progress: { say: "Writing", doneShare: 0.618, leftMs: 8_200 },
    };
    expect(tileOf(writing)).toMatchObject({ mark: "half", say: "Writing, 61 %, 8 s left", job: { doneShare: 0.618 } });
    expect(tileOf({ ...writing, progress: { say: "Writing", leftMs: 300 } }).say).toBe("Writing, under 1 s left");
    expect(tileOf({ ...writing, progress: { say: "Writing", leftMs: 240_000 } }).say).toBe("Writing, 4 min left");
  });

  it("a check that goes the wrong way shows it", () => {
    const ask = { say: "Lift the nose", expected: "nose up", seen: "nose down", wrong: true, notProvable: false };
    expect(tileOf({ ...job({ kind: "started", step: "plan" }), progress: { say: "x", ask } })).toMatchObject({
      mark: "no",
      say: "Lift the nose",
    });
  });

  it("keeps what is on the cable beside what is asked", () => {
    expect(tileOf({ ...job(waits({ kind: "sign", say: "x" })), presence: console1 })).toMatchObject({
      presence: "console",
      port: "port 4",
      usb: "0x1209:0x0020",
      chipId: "4A17-0C22-91FE",
    });
  });
});
