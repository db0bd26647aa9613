import { startBench } from "@/bench/bench";
import { openItems } from "@/core/carryover";
import type { StepName } from "@/core/job";
import { CHUNK_BYTES } from "@/core/sim";
import { aircraftByTag } from "@/server/repositories/fleet";
import { orderJob } from "@/server/repositories/jobs";
import { flashChunks, simBoardById } from "@/server/repositories/simulation";
import { backupsOf } from "@/server/repositories/backups";
import { planOfJob, readJob } from "@/server/web/job-view";
import { CHIP, imageFile, foundIn } from "../support/workshop";
import { openRoom, type Room } from "../support/room";

const BAY = 4;
let room: Room;
let jobId = 0;

const waitsAt = (step: StepName) =>
  room.until(async () => {
    const at = await room.standsAt(jobId);
    return at?.id === step && (at.status === "waiting" || at.status === "failed");
  }, `the job waits at ${step}`);

beforeAll(async () => {
  room = await openRoom({ name: "bench", tag: "QW-50", bay: BAY, firstPort: 70, factor: 200 });
}, 60_000);

afterAll(() => room.close());

describe("the bench process on a real database", () => {
  it("seats a board, sees it appear, and matches it by chip id", async () => {
    expect(await room.order({ kind: "plug", button: false, pads: false })).toBe("bay-empty");
    expect(await room.order({ kind: "bring", boardId: room.simId })).toBe("done");
    expect(await room.order({ kind: "bring", boardId: room.simId })).toBe("bay-full");
    expect(await room.order({ kind: "bring", boardId: 99_999 }, undefined, { bayNo: 5 })).toBe("sim-none");
    expect((await room.live()).say).toBe("In the bay, not plugged in");
    await room.order({ kind: "plug", button: false, pads: false });
    await room.until(async () => (await room.live()).aircraftId === room.aircraftId, "the board is matched");
    expect(await room.live()).toMatchObject({
      say: "Answers, Heddle 22",
      chipId: CHIP,
      target: "CSLATE-B",
      presence: "console",
      matchedBy: "chip id",
    });
  });

  it("orders for hands and faults take effect, and come back from storage", async () => {
    await room.order({ kind: "lean", roll: 0, pitch: 30, heading: 90 });
    await room.order({ kind: "stick", index: 2, pulse: 1900 });
    await room.order({ kind: "fault", name: "stallEvery", value: 500 });
    await room.until(async () => (await room.live()).senses?.pitch === 30, "the airframe leans");
    await room.bench.stop();
    room.bench = await startBench();
    await room.until(async () => (await room.live()).say === "Answers, Heddle 22", "the board is back");
    expect(await room.live()).toMatchObject({
      senses: { pitch: 30, heading: 90, sticks: [1500, 1500, 1900, 1500] },
      faults: { stallEvery: 500 },
    });
    await room.order({ kind: "fault", name: "stallEvery", value: 0 });
  });

  it("runs a job to its first question; words at the wrong time are refused", async () => {
    jobId = await orderJob({
      bayNo: BAY,
      aircraftId: room.aircraftId,
      goal: { kind: "update", releaseId: "heddle-23" },
      account: "technician",
    });
    expect(await room.order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("job-not-running");
    expect((await readJob(jobId))?.begun).toBe(false);
    expect(await room.order({ kind: "begin" }, jobId)).toBe("done");
    await waitsAt("plan");
    expect(await room.order({ kind: "sign" }, jobId)).toBe("too-late");
    expect(await room.order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("too-late");
    expect(await room.order({ kind: "decide", choices: { "system/motor.rest": "dance" } }, jobId)).toBe(
      "choice-unknown",
    );
    expect(await room.live()).toMatchObject({ mark: "call", job: { id: jobId } });
    expect((await aircraftByTag((await readJob(jobId))?.job.tag ?? ""))?.state).toBe("on-bench");
    expect((await backupsOf(room.aircraftId))[0]).toMatchObject({ verdict: "complete", job_id: jobId });
  });

  it("a job that waits is taken up again by the next process, decisions and all", async () => {
    const view = await readJob(jobId);
    const plan = view && (await planOfJob(view));
    if (!plan) throw new Error("there is no plan");
    const [first, ...rest] = openItems(plan, {});
    const choice = (items: typeof rest) =>
      Object.fromEntries(items.map((item) => [item.id, item.choices[0]?.id ?? ""]));
    expect(await room.order({ kind: "decide", choices: choice(first ? [first] : []) }, jobId)).toBe("done");
    await room.bench.stop();
    room.bench = await startBench();
    expect(await room.order({ kind: "take" }, jobId)).toBe("too-late");
    expect(await room.order({ kind: "decide", choices: choice(rest) }, jobId)).toBe("done");
    await room.take(jobId);
    await waitsAt("make-safe");
    // nothing was sent yet: it is laid open again, another decision is taken, and it is taken anew
    const before = foundIn((await readJob(jobId))?.state).planSha;
    expect(before).toBeDefined();
    expect(await room.order({ kind: "reopen" }, jobId)).toBe("done");
    await room.until(async () => (await room.standsAt(jobId))?.need?.kind === "take", "it waits again");
    expect(foundIn((await readJob(jobId))?.state).planSha).toBeUndefined();
    expect(await room.order({ kind: "reopen" }, jobId)).toBe("too-late");
    const other = rest.find(({ choices }) => choices.length > 1);
    expect(
      await room.order({ kind: "decide", choices: { [other?.id ?? ""]: other?.choices[1]?.id ?? "" } }, jobId),
    ).toBe("done");
    await room.take(jobId);
    await waitsAt("make-safe");
    expect((await readJob(jobId))?.state.decisions[other?.id ?? ""]).toBe(other?.choices[1]?.id);
    expect((await readJob(jobId))?.state.decidedBy[first?.id ?? ""]?.account).toBe("technician");
  });

  it("what is stored of the board is what the board holds, after the flash and after the restore", async () => {
    await room.order({ kind: "confirm", step: "make-safe" }, jobId);
    await room.until(async () => (await room.standsAt(jobId))?.id === "check-attitude", "the checks begin", 40_000);
    await room.bench.stop();
    const image = imageFile("heddle-23", "CSLATE-B");
    const stored = new Uint8Array(2_000_000).fill(0xff);
    for (const { chunk, bytes } of await flashChunks(room.simId)) stored.set(bytes, chunk * CHUNK_BYTES);
    const at = 49_152;
    expect(Buffer.compare(stored.subarray(at, at + image.length), image)).toBe(0);
    expect((await simBoardById(room.simId))?.bay_no).toBe(BAY);
    room.bench = await startBench();
    await room.until(async () => (await room.live()).job?.ask !== undefined, "the check asks again");
  }, 60_000);

  it("a stopped job leaves the aircraft on the ground and the board free", async () => {
    expect(await room.order({ kind: "stop", reason: "the day is over", writing: false }, jobId)).toBe("done");
    await room.until(async () => (await room.live()).job === undefined, "the bay is free");
    expect((await readJob(jobId))?.stopReason).toBe("the day is over");
    const row = await aircraftByTag((await readJob(jobId))?.job.tag ?? "");
    expect([row?.state, row?.release_id]).toEqual(["out-of-service", "heddle-23"]);
    expect(await room.order({ kind: "again", step: "plan" }, jobId)).toBe("job-not-running");
    expect(await room.order({ kind: "take-out" })).toBe("done");
    expect((await room.live()).say).toBe("Empty");
    expect((await simBoardById(room.simId))?.bay_no).toBeNull();
  });
});
