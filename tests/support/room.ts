import { startBench, type RunningBench } from "@/bench/bench";
import { currentStep, type BayLive, type StepState } from "@/core/job";
import { ProblemError } from "@/core/problem";
import { applicationSpace, writeHex } from "@/core/image";
import { snapshotOf, takeDirtyChunks } from "@/core/sim";
import { closeDb } from "@/server/db";
import { ensureBench, readBays } from "@/server/repositories/bench";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft } from "@/server/repositories/fleet";
import type { OrderBody } from "@/contracts/order-shapes";
import { awaitOrder, placeOrder } from "@/server/repositories/orders";
import { createSimBoard, saveSimBoard } from "@/server/repositories/simulation";
import { readJob } from "@/server/web/job-view";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase, giveSlate } from "./database";
import { CHIP, imageFile, makeBoard } from "./workshop";

interface Furnishing {
  /** The test's own database. */
  readonly name: string;
  readonly tag: string;
  /** The bay that orders go to when none is named. */
  readonly bay: number;
  readonly firstPort: number;
  /** How much faster than the wall's the boards' clock runs. */
  readonly factor: number;
}

/** A bench that runs on a database of its own, with one aircraft whose board lies on the shelf. */
export interface Room {
  readonly benchId: number;
  readonly aircraftId: number;
  readonly simId: number;
  bench: RunningBench;
  live(no?: number): Promise<BayLive>;
  until(fits: () => Promise<boolean>, what: string, limitMs?: number): Promise<void>;
  /** How the bench carried an order out, or the code of the problem that it met. */
  order(
    body: OrderBody,
    job?: number,
    more?: { readonly account?: string; readonly bayNo?: number; readonly goodForS?: number },
  ): Promise<string>;
  standsAt(jobId: number): Promise<StepState | undefined>;
  /** Takes the plan as soon as it waits for that. */
  take(jobId: number): Promise<void>;
  close(): Promise<void>;
}

export async function openRoom({ name, tag, bay, firstPort, factor }: Furnishing): Promise<Room> {
  await freshDatabase(name);
  const benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  const { board, link } = await makeBoard(["put motor.rest 6.2"]);
  const { start } = applicationSpace(board.processor);
  // the one that it runs as well: without it there would be no way back
  for (const id of ["heddle-22", "heddle-23"]) {
    const hex = writeHex([{ start, bytes: imageFile(id, "CSLATE-B") }]);
    await importImage(new TextEncoder().encode(hex), "lead");
  }
  const aircraftId = await addAircraft({ tag, label: "", type: "Sedge" });
  await giveSlate(tag, CHIP);
  const simId = await createSimBoard({
    label: "A board of the test",
    chipId: CHIP,
    modelId: "corsley-slate",
    firstPort,
  });
  await saveSimBoard(benchId, null, {
    boardId: simId,
    bayNo: null,
    clockUs: link.clock.nowUs(),
    snapshot: snapshotOf(board),
    chunks: takeDirtyChunks(board),
  });
  const live: Room["live"] = async (no = bay) =>
    (await readBays(benchId)).find((each) => each.no === no)?.live ?? { mark: "none", say: "" };
  const room: Room = {
    benchId,
    aircraftId,
    simId,
    bench: await startBench(),
    live,
    async take(jobId) {
      await room.until(async () => (await room.standsAt(jobId))?.need?.kind === "take", "the plan waits to be taken");
      if ((await room.order({ kind: "take" }, jobId)) !== "done") throw new Error("the plan is not taken");
    },
    async until(fits, what, limitMs = 30_000) {
      const end = Date.now() + limitMs;
      while (!(await fits())) {
        if (Date.now() > end) throw new Error(`not in time: ${what}; the bay says “${(await live()).say}”`);
        await new Promise((resolve) => setTimeout(resolve, 30));
      }
    },
    async order(body, job, { account = "technician", bayNo = bay, goodForS } = {}) {
      const id = await placeOrder({
        benchId,
        bayNo,
        body,
        account,
        ...(goodForS === undefined ? {} : { goodForS }),
        ...(job === undefined ? {} : { jobId: job }),
      });
      try {
        return await awaitOrder(id, 10_000);
      } catch (error) {
        return error instanceof ProblemError ? error.problem.code : String(error);
      }
    },
    async standsAt(jobId) {
      const view = await readJob(jobId);
      return view && currentStep(view.state);
    },
    async close() {
      await room.bench.stop();
      await closeDb();
    },
  };
  await room.order({ kind: "clock", factor });
  return room;
}
