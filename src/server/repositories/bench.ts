import { inTransaction, one, rows, run, jsonText } from "@/server/sql";
import type { Transaction } from "sequelize";
import { EMPTY_BAY, type BayLive } from "@/core/job";
import { ProblemError } from "@/core/problem";

/** How many bays a bench has. They are numbered through the workshop: the second bench has bays 7 to 12. */
const BAYS = 6;

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
  readonly benchId: number;
  readonly live: BayLive;
}

/**
 * The bench of a name, made with bays of its own where it is not there yet; without a name the workshop's first, which a
 * new workshop gets under a name that can be changed. Gives its id.
 */
export const ensureBench = (name?: string): Promise<number> =>
  inTransaction(async (transaction) => {
    // two machines that start at once do not number their bays alike
    await run("select pg_advisory_xact_lock(hashtext('fresh_start_benches'))", [], transaction);
    const existing = await one<{ id: number }>(
      "select id from benches where $1::text is null or name = $1 order by id limit 1",
      [name ?? null],
      transaction,
    );
    if (existing) return existing.id;
    const made = await one<{ id: number }>(
      "insert into benches (name) values ($1) returning id",
      [name ?? "Bench 1"],
      transaction,
    );
    await run(
      `insert into bays (bench_id, no, live)
       select $1, (select coalesce(max(no), 0) from bays) + n, $3 from generate_series(1, $2) n`,
      [made?.id, BAYS, jsonText(EMPTY_BAY)],
      transaction,
    );
    return made?.id ?? 0;
  });

const BENCH = "select id, name, clock_factor, seen_at, ports from benches";

/** All benches, in the order of their bays. */
export const readBenches = (): Promise<BenchRow[]> => rows<BenchRow>(`${BENCH} order by id`);

/** One bench; without an id the workshop's first. */
export async function readBench(id?: number): Promise<BenchRow> {
  const bench = await one<BenchRow>(`${BENCH} where $1::int is null or id = $1 order by id limit 1`, [id ?? null]);
  if (!bench)
    throw new ProblemError({
      code: "bench-none",
      message: "There is no bench",
      hint: "Start Fresh Start with bin/start",
    });
  return bench;
}

/** The bench that a bay belongs to; undefined where there is no such bay. */
export const benchOfBay = async (no: number): Promise<BenchRow | undefined> =>
  Number.isSafeInteger(no) && no > 0 && no < 2 ** 31
    ? one<BenchRow>(`${BENCH} where id = (select bench_id from bays where no = $1)`, [no])
    : undefined;

/** The bays of one bench, or of all. */
export const readBays = (benchId?: number): Promise<Bay[]> =>
  rows<Bay>(`select no, bench_id as "benchId", live from bays where $1::int is null or bench_id = $1 order by no`, [
    benchId ?? null,
  ]);

export const readBay = (no: number): Promise<Bay | undefined> =>
  one<Bay>(`select no, bench_id as "benchId", live from bays where no = $1`, [no]);

const UP_WITHIN_MS = 6_000;

/** A bench whose process has not shown itself lately; also not since the clock was set back. */
export interface BenchDown {
  readonly id: number;
  /** It is missed: it is the workshop's first, a job is open on it, or it was there within the hour. Others are put away. */
  readonly missed: boolean;
}

export const benchesDown = (): Promise<BenchDown[]> =>
  rows<BenchDown>(
    `select k.id, k.id = (select min(id) from benches) or coalesce(k.seen_at > now() - interval '1 hour', false)
            or exists (select from jobs where bench_id = k.id and state = 'open') as missed
     from benches k where k.seen_at is null or abs(extract(epoch from now() - k.seen_at)) * 1000 >= $1 order by k.id`,
    [UP_WITHIN_MS],
  );

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
