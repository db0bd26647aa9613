import { startBench, type RunningBench } from "@/bench/bench";
import { ProblemError } from "@/core/problem";
import { benchesDown, benchOfBay, ensureBench, readBay, readBays, readBenches } from "@/server/repositories/bench";
import { entriesOfJob } from "@/server/repositories/journal";
import { orderJob } from "@/server/repositories/jobs";
import type { OrderBody } from "@/contracts/order-shapes";
import { awaitOrder, placeOrder } from "@/server/repositories/orders";
import { simBoardById } from "@/server/repositories/simulation";
import { one } from "@/server/sql";
import { readCursor, cursorSum, cursorText } from "@/server/web/cursor";
import { openRoom, type Room } from "../support/room";
import { codeOf } from "../support/database";

let room: Room;
let tent: RunningBench;
let tentId = 0;

beforeAll(async () => {
  room = await openRoom({ name: "benches", tag: "QW-55", bay: 2, firstPort: 90, factor: 200 });
  tent = await startBench("Field tent");
  tentId = await ensureBench("Field tent");
}, 60_000);

afterAll(async () => {
  await tent.stop();
  await room.close();
});

async function order(benchId: number, bayNo: number, body: OrderBody, job?: number): Promise<string> {
  const id = await placeOrder({ benchId, bayNo, body, account: "technician", ...(job ? { jobId: job } : {}) });
  try {
    return await awaitOrder(id, 10_000);
  } catch (error) {
    return error instanceof ProblemError ? error.problem.code : String(error);
  }
}

describe("two benches on two machines", () => {
  it("have bays of their own, numbered through the workshop, however many start at once", async () => {
    const [a, b, c] = await Promise.all([ensureBench("Shed"), ensureBench("Shed"), ensureBench("Loft")]);
    expect(a).toBe(b);
    expect(c).not.toBe(a);
    const bays = await readBays();
    expect(bays.map(({ no }) => no)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1));
    for (const { id } of await readBenches()) expect(bays.filter(({ benchId }) => benchId === id)).toHaveLength(6);
    expect((await benchOfBay(7))?.name).toBe("Field tent");
    for (const no of [0, 25, -1, NaN, 2 ** 40, 1.5]) expect(await benchOfBay(no)).toBeUndefined();
    // those that nobody works at are told apart
    expect(await benchesDown()).toEqual([a, c].toSorted((x, y) => x - y).map((id) => ({ id, missed: false })));
  });

  it("one process works at each; another of the same name stands by", async () => {
    expect(await codeOf(startBench("Field tent"))).toBe("bench-claimed");
  });

  it("a board that both take from the shelf at once lies in one of them", async () => {
    for (let round = 0; round < 5; round++) {
      const answers = await Promise.all([
        order(room.benchId, 2, { kind: "bring", boardId: room.simId }),
        order(tentId, 8, { kind: "bring", boardId: room.simId }),
      ]);
      expect(answers.toSorted()).toEqual(["done", "sim-elsewhere"]);
      const [bay, bench] = answers[0] === "done" ? [2, room.benchId] : [8, tentId];
      expect(await simBoardById(room.simId)).toMatchObject({ bay_no: bay, bench_id: bench });
      expect(await order(bench, bay, { kind: "take-out" })).toBe("done");
    }
  });

  it("a job is ordered and run where the board lies, and its record is that bench’s", async () => {
    expect(await order(tentId, 8, { kind: "bring", boardId: room.simId })).toBe("done");
    await order(tentId, 8, { kind: "plug", button: false, pads: false });
    await room.until(async () => (await readBay(8))?.live.aircraftId === room.aircraftId, "the board is matched");
    const wish = { goal: { kind: "update", releaseId: "heddle-23" } as const, account: "technician" };
    expect(await codeOf(orderJob({ ...wish, bayNo: 2, aircraftId: room.aircraftId }))).toBe("board-elsewhere");
    expect(await codeOf(orderJob({ ...wish, bayNo: 99, aircraftId: room.aircraftId }))).toBe("bay-none");
    const job = await orderJob({ ...wish, bayNo: 8, aircraftId: room.aircraftId });
    expect(await order(tentId, 8, { kind: "begin" }, job)).toBe("done");
    await room.until(async () => (await room.standsAt(job))?.id === "plan", "the plan waits");
    // its machine goes and comes back: the other bench is not touched, the job goes on
    await tent.stop();
    expect((await readBay(2))?.live.say).not.toContain("QW-55");
    await room.until(async () => (await benchesDown()).some(({ id }) => id === tentId), "it is seen to be gone");
    expect(await benchesDown()).toContainEqual({ id: tentId, missed: true });
    tent = await startBench("Field tent");
    await room.until(async () => (await readBay(8))?.live.job?.id === job, "the job is taken up");
    expect(await order(tentId, 8, { kind: "stop", reason: "Another day", writing: false }, job)).toBe("done");
    const entries = await entriesOfJob(job);
    expect(entries.at(-1)?.entry.kind).toBe("stopped");
    const other = await one<{ n: number }>(
      "select count(*)::int as n from journal where job_id = $1 and bench_id <> $2",
      [job, tentId],
    );
    expect(other?.n).toBe(0);
  });

  it("what a browser has heard of each is kept in one mark", () => {
    const cursor = new Map([
      [1, 120],
      [2, 0],
      [7, 31],
    ]);
    expect(readCursor(cursorText(cursor))).toEqual(cursor);
    expect(cursorSum(cursor)).toBe(151);
    for (const text of ["", "x", "12", "1:", "1:2,", "1:2,b:3", "1:-2", "9".repeat(3000), "1:9999999999999999"])
      expect([text, readCursor(text)]).toEqual([text, undefined]);
  });
});
