import { Client } from "pg";
import { ProblemError, problemOf } from "@/core/problem";
import { Bay } from "@/bench/bay";
import { databaseUrl } from "@/server/env";
import { BAYS, beat, ensureBench, readBench, takeFence } from "@/server/repositories/bench";
import { jobById, openJobsOf } from "@/server/repositories/jobs";
import { checkOrder, closeOrder, waitingOrders } from "@/server/repositories/orders";
import { entriesOfJob } from "@/server/repositories/journal";
import { simBoardsOn } from "@/server/repositories/simulation";
import { run as runSql } from "@/server/sql";

const HEARTBEAT_MS = 2_000;
/** Keys of the advisory lock: this product's benches. */
const LOCK_CLASS = 4170;

export interface RunningBench {
  /** Ends the work in order: boards are stored, jobs stay where their journal stands. */
  stop(): Promise<void>;
  /** Resolves with the reason when the bench has lost its claim and lets go by itself. */
  readonly lost: Promise<unknown>;
}

/** Claims the bench: the advisory lock on a connection of its own. Refuses when another process holds it. */
async function claim(benchId: number, onLost: (reason: unknown) => void): Promise<Client> {
  const client = new Client({
    connectionString: databaseUrl(),
    keepAlive: true,
    application_name: "fresh-start bench",
  });
  await client.connect();
  client.on("error", onLost);
  client.on("end", () => onLost(new Error("the connection to the database ended")));
  const result = await client.query<{ held: boolean }>("select pg_try_advisory_lock($1, $2) as held", [
    LOCK_CLASS,
    benchId,
  ]);
  if (!result.rows[0]?.held) {
    await client.end();
    throw new ProblemError({
      code: "bench-claimed",
      message: "Another process works at this bench",
      hint: "Stop it first; two cannot touch the same boards",
    });
  }
  await client.query("listen fresh_start_orders");
  return client;
}

/** Starts the bench process's work: claims the bench, puts stored boards back, takes open jobs up, takes orders. */
export async function startBench(): Promise<RunningBench> {
  await ensureBench();
  const bench = await readBench();
  let lose: (reason: unknown) => void = () => undefined;
  const lost = new Promise<unknown>((resolve) => (lose = resolve));
  const client = await claim(bench.id, (reason) => lose(reason));
  const fence = await takeFence(bench.id);
  const shared = { id: bench.id, fence, factor: bench.clock_factor, onFatal: (error: unknown) => lose(error) };
  const bays = new Map(Array.from({ length: BAYS }, (_, i) => [i + 1, new Bay(i + 1, shared)]));
  for (const row of await simBoardsOn(bench.id)) await bays.get(row.bay_no ?? 0)?.seatStored(row.id);
  for (const job of await openJobsOf(bench.id))
    if ((await entriesOfJob(job.id)).length > 0) await bays.get(job.bay_no)?.takeJob(job);
  for (const bay of bays.values()) bay.watch().catch((error: unknown) => lose(error));

  let taking = Promise.resolve();
  const take = () => {
    taking = taking.then(() => takeOrders(bench.id, bays)).catch((error: unknown) => lose(error));
  };
  client.on("notification", take);
  const heartbeat = setInterval(() => {
    beat(bench.id, fence).then(take, (error: unknown) => lose(error));
  }, HEARTBEAT_MS);
  take();
  return {
    lost,
    stop: async () => {
      clearInterval(heartbeat);
      client.removeAllListeners();
      client.on("error", () => undefined);
      await taking;
      await Promise.all([...bays.values()].map((bay) => bay.end().catch(() => undefined)));
      await client.end().catch(() => undefined);
    },
  };
}

async function takeOrders(benchId: number, bays: ReadonlyMap<number, Bay>): Promise<void> {
  for (const order of await waitingOrders(benchId)) {
    try {
      const body = checkOrder(order.body);
      const bay = bays.get(order.bay_no);
      if (!bay) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
      if (body.kind === "clock") {
        for (const each of bays.values()) each.setFactor(body.factor);
        await runSql("update benches set clock_factor = $2 where id = $1", [benchId, body.factor]);
      } else await bay.obey(body, order.account, order.job_id === null ? undefined : await jobById(order.job_id));
      await closeOrder(order.id);
    } catch (error) {
      if (error instanceof ProblemError && error.problem.code === "bench-fenced") throw error;
      await closeOrder(order.id, problemOf(error));
    }
  }
}
