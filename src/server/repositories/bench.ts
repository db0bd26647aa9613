import { one, rows, run, jsonText } from "@/server/sql";
import type { Transaction } from "sequelize";
import { EMPTY_BAY, type BayLive } from "@/core/job";
import { ProblemError } from "@/core/problem";

export const BAYS = 6;

export interface BenchRow {
  readonly id: number;
  readonly name: string;
  readonly clock_factor: number;
  readonly seen_at: Date | null;
  /** The serial ports that its machine has. */
  readonly ports: readonly PortSeen[];
}

/** A serial port of a bench's machine. */
export interface PortSeen {
  readonly path: string;
  /** What its device says of itself. */
  readonly says: string;
  readonly usb?: string;
}

export interface Bay {
  readonly no: number;
  readonly live: BayLive;
}

/** The one bench of a new workshop. Its name can be changed; it is no name of the demo's. */
export async function ensureBench(name = "Bench 1"): Promise<number> {
  const existing = await one<{ id: number }>("select id from benches order by id limit 1");
  if (existing) return existing.id;
  const made = await one<{ id: number }>("insert into benches (name) values ($1) returning id", [name]);
  if (!made) throw new Error("the bench could not be made");
  for (let no = 1; no <= BAYS; no++)
    await run("insert into bays (bench_id, no, live) values ($1, $2, $3)", [made.id, no, jsonText(EMPTY_BAY)]);
  return made.id;
}

export async function readBench(): Promise<BenchRow> {
  const bench = await one<BenchRow>("select id, name, clock_factor, seen_at, ports from benches order by id limit 1");
  if (!bench)
    throw new ProblemError({
      code: "bench-none",
      message: "There is no bench",
      hint: "Start Fresh Start with bin/start",
    });
  return bench;
}

export const readBays = (benchId: number): Promise<Bay[]> =>
  rows<Bay>("select no, live from bays where bench_id = $1 order by no", [benchId]);

const UP_WITHIN_MS = 6_000;

/** Whether the bench process has shown itself lately. */
export const benchIsUp = (bench: Pick<BenchRow, "seen_at">, now: number): boolean =>
  bench.seen_at !== null && now - bench.seen_at.getTime() < UP_WITHIN_MS;

/** Takes the bench over: whoever held it before can write nothing from now on. Gives the new fencing number. */
export async function takeFence(benchId: number): Promise<string> {
  const row = await one<{ fence: string }>(
    "update benches set fence = fence + 1, seen_at = now() where id = $1 returning fence",
    [benchId],
  );
  if (!row) throw new Error(`there is no bench ${benchId}`);
  return row.fence;
}

export const fencedOut = () =>
  new ProblemError({
    code: "bench-fenced",
    message: "Another process has taken over this bench",
    detail: "What this process still writes is refused",
    hint: "Nothing is to be done; the other process goes on",
  });

/** Holds the fence for the rest of a transaction; throws when another process has taken the bench over. */
export async function holdFence(benchId: number, fence: string, transaction: Transaction): Promise<void> {
  const row = await one(
    "select id from benches where id = $1 and fence = $2 for update",
    [benchId, fence],
    transaction,
  );
  if (!row) throw fencedOut();
}

/** Replaces what a bay shows and wakes the strips that watch it. */
export async function writeLive(benchId: number, fence: string, bayNo: number, live: BayLive): Promise<void> {
  const row = await one(
    `update bays b set live = $4 from benches k where b.bench_id = $1 and b.no = $3 and k.id = b.bench_id and k.fence = $2
     returning pg_notify('fresh_start_live', b.bench_id || ':' || b.no)`,
    [benchId, fence, bayNo, jsonText(live)],
  );
  if (!row) throw fencedOut();
}

/** Which port of the machine a bay is; null: a simulated socket. */
export async function keepPort(benchId: number, fence: string, bayNo: number, path: string | null): Promise<void> {
  const row = await one(
    `update bays b set port = $4 from benches k where b.bench_id = $1 and b.no = $3 and k.id = b.bench_id and k.fence = $2
     returning b.no`,
    [benchId, fence, bayNo, path],
  );
  if (!row) throw fencedOut();
}

/** Bays that are a port of the machine. */
export const portsOfBays = (benchId: number): Promise<{ no: number; port: string }[]> =>
  rows("select no, port from bays where bench_id = $1 and port is not null", [benchId]);

export async function keepPorts(benchId: number, fence: string, ports: readonly PortSeen[]): Promise<void> {
  const row = await one("update benches set ports = $3 where id = $1 and fence = $2 returning id", [
    benchId,
    fence,
    jsonText(ports),
  ]);
  if (!row) throw fencedOut();
}

/** How fast simulated boards live on a bench. */
export async function setClockFactor(benchId: number, fence: string, factor: number): Promise<void> {
  const row = await one("update benches set clock_factor = $3 where id = $1 and fence = $2 returning id", [
    benchId,
    fence,
    factor,
  ]);
  if (!row) throw fencedOut();
}

export async function beat(benchId: number, fence: string): Promise<void> {
  const row = await one("update benches set seen_at = now() where id = $1 and fence = $2 returning id", [
    benchId,
    fence,
  ]);
  if (!row) throw fencedOut();
}
