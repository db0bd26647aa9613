import { Client } from "pg";
import { ProblemError } from "@/core/problem";
import { Bay } from "@/bench/bay";
import { Desk } from "@/bench/desk";
import { lineAsker } from "@/bench/serial/ask-line";
import { PortList } from "@/bench/serial/ports";
import { SerialSocket } from "@/bench/serial/socket";
import { systemBus, UsbLoaders } from "@/bench/usb/loaders";
import { SimSocket } from "@/bench/sim-socket";
import { benchName, databaseUrl } from "@/server/env";
import { beat, ensureBench, portsOfBays, readBays, readBench, takeFence } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { openJobsOf } from "@/server/repositories/jobs";
import { closeBroken } from "@/server/repositories/orders";
import { simBoardsOn } from "@/server/repositories/simulation";

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
export async function startBench(name = benchName()): Promise<RunningBench> {
  const bench = await readBench(await ensureBench(name));
  let lose: (reason: unknown) => void = () => undefined;
  const lost = new Promise<unknown>((resolve) => (lose = resolve));
  const client = await claim(bench.id, (reason) => lose(reason));
  const fence = await takeFence(bench.id);
  const ports = new PortList(bench.id, fence);
  const usb = new UsbLoaders(systemBus(), loadCatalogue);
  const simulated = async (no: number) =>
    new SimSocket({ no, benchId: bench.id, fence }, (await readBench(bench.id)).clock_factor);
  const socketFor = async (no: number, path: string | null) =>
    path === null ? simulated(no) : new SerialSocket(await ports.require(path, no), lineAsker(loadCatalogue), usb);
  const shared = { id: bench.id, fence, onFatal: (error: unknown) => lose(error), socketFor };
  const bays = new Map<number, Bay>();
  const kept = new Map((await portsOfBays(bench.id)).map(({ no, port }) => [no, port]));
  for (const { no } of await readBays(bench.id)) {
    // a port that is not there now is waited for
    const port = kept.get(no);
    const socket = port === undefined ? await simulated(no) : new SerialSocket(port, lineAsker(loadCatalogue), usb);
    bays.set(no, new Bay(no, socket, shared));
  }
  for (const row of await simBoardsOn(bench.id)) await bays.get(row.bay_no ?? 0)?.seatStored(row.id);
  for (const job of await openJobsOf(bench.id)) await bays.get(job.bay_no)?.takeUp(job);
  for (const bay of bays.values()) bay.watch().catch((error: unknown) => lose(error));

  const desk = new Desk({ benchId: bench.id, fence }, bays, (error) => lose(error));
  await closeBroken({ benchId: bench.id, fence });
  const take = () => void desk.look();
  client.on("notification", take);
  const heartbeat = setInterval(() => {
    beat(bench.id, fence)
      .then(take)
      .then(() => ports.look())
      .catch((error: unknown) => lose(error));
  }, HEARTBEAT_MS);
  take();
  await ports.look();
  return {
    lost,
    stop: async () => {
      clearInterval(heartbeat);
      client.removeAllListeners();
      client.on("error", () => undefined);
      await desk.idle();
      await Promise.all([...bays.values()].map((bay) => bay.end().catch(() => undefined)));
      await client.end().catch(() => undefined);
    },
  };
}
