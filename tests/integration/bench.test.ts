import { startBench, type RunningBench } from "@/bench/bench";
import { openItems } from "@/core/carryover";
import { currentStep, type BayLive, type StepId } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { applicationSpace, writeHex } from "@/core/image";
import { snapshotOf, takeDirtyChunks, CHUNK_BYTES } from "@/core/sim";
import { closeDb } from "@/server/db";
import { ensureBench, readBays } from "@/server/repositories/bench";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft, aircraftByTag } from "@/server/repositories/fleet";
import { orderJob } from "@/server/repositories/jobs";
import { awaitOrder, placeOrder, type OrderBody } from "@/server/repositories/orders";
import { createSimBoard, flashChunks, saveSimBoard, simBoardById } from "@/server/repositories/simulation";
import { backupsOf } from "@/server/repositories/backups";
import { planOfJob, readJob } from "@/server/web/job-view";
import { demoDocuments } from "../../demo/documents";
import { CHIP, imageFile, makeBoard } from "../support/workshop";
import { freshDatabase, giveSlate } from "../support/database";

const BAY = 4;
let benchId = 0;
let aircraftId = 0;
let simId = 0;
let jobId = 0;
let bench: RunningBench;

const live = async (no = BAY): Promise<BayLive> =>
  (await readBays(benchId)).find((bay) => bay.no === no)?.live ?? { mark: "none", say: "" };

async function until(fits: () => Promise<boolean>, what: string, limitMs = 20_000): Promise<void> {
  const end = Date.now() + limitMs;
  while (!(await fits())) {
    if (Date.now() > end) throw new Error(`not in time: ${what}; the bay says “${(await live()).say}”`);
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
}

async function order(body: OrderBody, job?: number, bayNo = BAY): Promise<string> {
  const id = await placeOrder({
    benchId,
    bayNo,
    body,
    account: "technician",
    ...(job === undefined ? {} : { jobId: job }),
  });
  try {
    return await awaitOrder(id, 10_000);
  } catch (error) {
    return error instanceof ProblemError ? error.problem.code : String(error);
  }
}

const standsAt = async () => {
  const view = await readJob(jobId);
  return view && currentStep(view.state);
};
const waitsAt = (step: StepId) =>
  until(async () => {
    const at = await standsAt();
    return at?.id === step && (at.status === "waiting" || at.status === "failed");
  }, `the job waits at ${step}`);

beforeAll(async () => {
  await freshDatabase("bench");
  benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  const hex = writeHex([
    { start: applicationSpace((await makeBoard()).board.processor).start, bytes: imageFile("heddle-23", "CSLATE-B") },
  ]);
  await importImage(new TextEncoder().encode(hex), "lead");
  const { board, link } = await makeBoard(["put motor.rest 6.2"]);
  aircraftId = await addAircraft({ tag: "QW-50", label: "", type: "Sedge" });
  await giveSlate("QW-50", CHIP);
  simId = await createSimBoard({ label: "A board of the test", chipId: CHIP, modelId: "corsley-slate", firstPort: 70 });
  await saveSimBoard(benchId, null, {
    boardId: simId,
    bayNo: null,
    clockUs: link.clock.nowUs(),
    snapshot: snapshotOf(board),
    chunks: takeDirtyChunks(board),
  });
  bench = await startBench();
  expect(await order({ kind: "clock", factor: 200 })).toBe("done");
}, 60_000);

afterAll(async () => {
  await bench.stop();
  await closeDb();
});

describe("the bench process on a real database", () => {
  it("seats a board, sees it appear, and matches it by chip id", async () => {
    expect(await order({ kind: "plug", button: false, pads: false })).toBe("bay-empty");
    expect(await order({ kind: "bring", boardId: simId })).toBe("done");
    expect(await order({ kind: "bring", boardId: simId })).toBe("bay-full");
    expect(await order({ kind: "bring", boardId: 99_999 }, undefined, 5)).toBe("sim-none");
    expect((await live()).say).toBe("In the bay, not plugged in");
    await order({ kind: "plug", button: false, pads: false });
    await until(async () => (await live()).aircraftId === aircraftId, "the board is matched");
    expect(await live()).toMatchObject({
      say: "Answers, Heddle 22",
      chipId: CHIP,
      target: "CSLATE-B",
      presence: "console",
      matchedBy: "chip id",
    });
  });

  it("orders for hands and faults take effect, and come back from storage", async () => {
    await order({ kind: "lean", roll: 0, pitch: 30, heading: 90 });
    await order({ kind: "stick", index: 2, pulse: 1900 });
    await order({ kind: "fault", name: "stallEvery", value: 500 });
    await until(async () => (await live()).senses?.pitch === 30, "the airframe leans");
    await bench.stop();
    bench = await startBench();
    await until(async () => (await live()).say === "Answers, Heddle 22", "the board is back");
    expect(await live()).toMatchObject({
      senses: { pitch: 30, heading: 90, sticks: [1500, 1500, 1900, 1500] },
      faults: { stallEvery: 500 },
    });
    await order({ kind: "fault", name: "stallEvery", value: 0 });
  });

  it("runs a job to its first question; words at the wrong time are refused", async () => {
    jobId = await orderJob({
      bayNo: BAY,
      aircraftId,
      goal: { kind: "update", releaseId: "heddle-23" },
      account: "technician",
    });
    expect(await order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("job-not-running");
    expect((await readJob(jobId))?.begun).toBe(false);
    expect(await order({ kind: "begin" }, jobId)).toBe("done");
    await waitsAt("plan");
    expect(await order({ kind: "sign" }, jobId)).toBe("too-late");
    expect(await order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("too-late");
    expect(await order({ kind: "decide", choices: { "system/motor.rest": "dance" } }, jobId)).toBe("choice-unknown");
    expect(await live()).toMatchObject({ mark: "call", job: { id: jobId } });
    expect((await aircraftByTag((await readJob(jobId))?.job.tag ?? ""))?.state).toBe("on-bench");
    expect((await backupsOf(aircraftId))[0]).toMatchObject({ verdict: "complete", job_id: jobId });
  });

  it("a job that waits is taken up again by the next process, decisions and all", async () => {
    const view = await readJob(jobId);
    const plan = view && (await planOfJob(view));
    if (!plan) throw new Error("there is no plan");
    const [first, ...rest] = openItems(plan, {});
    const choice = (items: typeof rest) =>
      Object.fromEntries(items.map((item) => [item.id, item.choices[0]?.id ?? ""]));
    expect(await order({ kind: "decide", choices: choice(first ? [first] : []) }, jobId)).toBe("done");
    await bench.stop();
    bench = await startBench();
    expect(await order({ kind: "decide", choices: choice(rest) }, jobId)).toBe("done");
    await waitsAt("make-safe");
    expect((await readJob(jobId))?.state.decidedBy[first?.id ?? ""]?.account).toBe("technician");
  });

  it("what is stored of the board is what the board holds, after the flash and after the restore", async () => {
    await order({ kind: "confirm", step: "make-safe" }, jobId);
    await until(async () => (await standsAt())?.id === "check-attitude", "the checks begin", 40_000);
    await bench.stop();
    const image = imageFile("heddle-23", "CSLATE-B");
    const stored = new Uint8Array(2_000_000).fill(0xff);
    for (const { chunk, bytes } of await flashChunks(simId)) stored.set(bytes, chunk * CHUNK_BYTES);
    const at = 49_152;
    expect(Buffer.compare(stored.subarray(at, at + image.length), image)).toBe(0);
    expect((await simBoardById(simId))?.bay_no).toBe(BAY);
    bench = await startBench();
    await until(async () => (await live()).job?.ask !== undefined, "the check asks again");
  }, 60_000);

  it("a stopped job leaves the aircraft on the ground and the board free", async () => {
    expect(await order({ kind: "stop", reason: "the day is over", writing: false }, jobId)).toBe("done");
    await until(async () => (await live()).job === undefined, "the bay is free");
    expect((await readJob(jobId))?.stopReason).toBe("the day is over");
    const row = await aircraftByTag((await readJob(jobId))?.job.tag ?? "");
    expect([row?.state, row?.release_id]).toEqual(["out-of-service", "heddle-23"]);
    expect(await order({ kind: "again", step: "plan" }, jobId)).toBe("job-not-running");
    expect(await order({ kind: "take-out" })).toBe("done");
    expect((await live()).say).toBe("Empty");
    expect((await simBoardById(simId))?.bay_no).toBeNull();
  });
});
