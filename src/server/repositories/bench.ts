import { literal, Op, type Transaction } from "sequelize";
import { getDb } from "@/server/db";
import type { Bench } from "@/server/models";
import { first, inTransaction, list, NOW, one, oneAtATime, rows, type Row } from "@/server/sql";
import { jsonText } from "@/server/storable";
import { EMPTY_BAY, type BayLive } from "@/core/job";
import { ProblemError } from "@/core/problem";
import type { Bay, BenchDown, PortSeen } from "@/contracts/answers/live";

/** How many bays a bench has. They are numbered through the workshop: the second bench has bays 7 to 12. */
const BAYS = 6;

const COLUMNS = ["id", "name", "clock_factor", "seen_at", "ports"] as const satisfies readonly (keyof Row<Bench>)[];
export type BenchRow = Row<Bench, (typeof COLUMNS)[number]>;

/**
 * The bench of a name, made with bays of its own where it is not there yet; without a name the workshop's first, which a
 * new workshop gets under a name that can be changed. Gives its id.
 */
export const ensureBench = (name?: string): Promise<number> =>
  inTransaction(async (transaction) => {
    // two machines that start at once do not number their bays alike
    await oneAtATime("benches", transaction);
    const { BayRow, Bench } = getDb();
    const where = name === undefined ? {} : { name };
    const existing = await first(Bench, { where, attributes: ["id"], order: ["id"], transaction });
    if (existing) return existing.id;
    const made = await Bench.create({ name: name ?? "Bench 1" }, { transaction });
    const last = (await BayRow.max<number | null, typeof BayRow.prototype>("no", { transaction })) ?? 0;
    await BayRow.bulkCreate(
      Array.from({ length: BAYS }, (_, i) => ({ bench_id: made.id, no: last + 1 + i, live: EMPTY_BAY })),
      { transaction },
    );
    return made.id;
  });

/** All benches, in the order of their bays. */
export const readBenches = (): Promise<BenchRow[]> => list(getDb().Bench, { attributes: COLUMNS, order: ["id"] });

/** One bench; without an id the workshop's first. */
export async function readBench(id?: number): Promise<BenchRow> {
  const where = id === undefined ? {} : { id };
  const bench = await first(getDb().Bench, { where, attributes: COLUMNS, order: ["id"] });
  if (!bench)
    throw new ProblemError({
      code: "bench-none",
      message: "There is no bench",
      hint: "Start Fresh Start with bin/start",
    });
  return bench;
}

/** The bench that a bay belongs to; undefined where there is no such bay. */
export async function benchOfBay(no: number): Promise<BenchRow | undefined> {
  const bay = Number.isSafeInteger(no) && no > 0 && no < 2 ** 31 ? await readBay(no) : undefined;
  return bay && first(getDb().Bench, { where: { id: bay.benchId }, attributes: COLUMNS });
}

const baysWhere = async (where: { bench_id?: number; no?: number }): Promise<Bay[]> =>
  (await list(getDb().BayRow, { where, order: ["no"] })).map(({ no, bench_id: benchId, live }) => ({
    ...{ no, benchId, live },
  }));

/** The bays of one bench, or of all. */
export const readBays = (benchId?: number): Promise<Bay[]> =>
  baysWhere(benchId === undefined ? {} : { bench_id: benchId });

export const readBay = async (no: number): Promise<Bay | undefined> => (await baysWhere({ no }))[0];

const UP_WITHIN_MS = 6_000;

/** Told by the database's own clock, with what else makes a bench missed. */
export const benchesDown = (): Promise<BenchDown[]> =>
  rows<BenchDown>(
    `select k.id, k.id = (select min(id) from benches) or coalesce(k.seen_at > now() - interval '1 hour', false)
            or exists (select from jobs where bench_id = k.id and state = 'open') as missed
     from benches k where k.seen_at is null or abs(extract(epoch from now() - k.seen_at)) * 1000 >= $1 order by k.id`,
    [UP_WITHIN_MS],
  );

/** Takes the bench over: whoever held it before can write nothing from now on. Gives the new fencing number. */
export async function takeFence(benchId: number): Promise<string> {
  const [, [row]] = await getDb().Bench.update(
    { fence: literal("fence + 1"), seen_at: NOW },
    { where: { id: benchId }, returning: true },
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
  const row = await first(getDb().Bench, {
    where: { id: benchId, fence },
    attributes: ["id"],
    lock: transaction.LOCK.UPDATE,
    transaction,
  });
  if (!row) throw fencedOut();
}

/** Replaces what a bay shows and wakes the strips that watch it; one statement, since it holds the fence and gives the notice as well. */
export async function writeLive(benchId: number, fence: string, bayNo: number, live: BayLive): Promise<void> {
  const row = await one(
    `update bays b set live = $4 from benches k where b.bench_id = $1 and b.no = $3 and k.id = b.bench_id and k.fence = $2
     returning pg_notify('fresh_start_live', b.bench_id || ':' || b.no)`,
    [benchId, fence, bayNo, jsonText(live)],
  );
  if (!row) throw fencedOut();
}

/** Which port of the machine a bay is; null: a simulated socket. */
export const keepPort = (benchId: number, fence: string, bayNo: number, port: string | null): Promise<void> =>
  inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    await getDb().BayRow.update({ port }, { where: { bench_id: benchId, no: bayNo }, transaction });
  });

/** Bays that are a port of the machine. */
export const portsOfBays = async (benchId: number): Promise<{ no: number; port: string }[]> =>
  (
    await list(getDb().BayRow, {
      where: { bench_id: benchId, port: { [Op.ne]: null } },
      attributes: ["no", "port"],
    })
  ).flatMap(({ no, port }) => (port === null ? [] : [{ no, port }]));

/** Changes a bench's own row, for as long as its fence is held. */
async function changeBench(
  benchId: number,
  fence: string,
  change: Parameters<ReturnType<typeof getDb>["Bench"]["update"]>[0],
): Promise<void> {
  const [changed] = await getDb().Bench.update(change, { where: { id: benchId, fence } });
  if (changed === 0) throw fencedOut();
}

export const keepPorts = (benchId: number, fence: string, ports: readonly PortSeen[]): Promise<void> =>
  changeBench(benchId, fence, { ports });

/** How fast simulated boards live on a bench. */
export const setClockFactor = (benchId: number, fence: string, factor: number): Promise<void> =>
  changeBench(benchId, fence, { clock_factor: factor });

export const beat = (benchId: number, fence: string): Promise<void> => changeBench(benchId, fence, { seen_at: NOW });
