import type { OrderBody, OrderKind } from "@/contracts/order-shapes";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { getDb } from "@/server/db";
import { literal, Op } from "sequelize";
import type { Order } from "@/server/models";
import { inTransaction, list, notify, NOW, type Row } from "@/server/sql";
import { hear } from "@/server/notices";
import { holdFence } from "@/server/repositories/bench";

/** How long an order is good for, in seconds: hands and names are of the moment; a stop is wanted whenever it comes. */
const GOOD_FOR_S: Readonly<Record<OrderKind, number>> = {
  plug: 10,
  unplug: 10,
  adapter: 10,
  battery: 10,
  lean: 10,
  stick: 10,
  fault: 10,
  calibrate: 10,
  afflict: 10,
  clock: 10,
  confirm: 10,
  sign: 10,
  begin: 20,
  decide: 20,
  take: 20,
  reopen: 20,
  again: 20,
  "as-asked": 10,
  correct: 20,
  "use-port": 20,
  bring: 20,
  "take-out": 20,
  "back-up": 20,
  give: 20,
  stop: 3600,
};

/** Places an order; it is good for so many seconds from now, or as long as its kind is. */
export async function placeOrder(order: {
  benchId: number;
  bayNo: number;
  jobId?: number;
  body: OrderBody;
  account: string;
  goodForS?: number;
}): Promise<string> {
  const { benchId: bench_id, bayNo: bay_no, jobId: job_id = null, body, account } = order;
  const good_until = fromNow(order.goodForS ?? GOOD_FOR_S[body.kind]);
  const { id } = await getDb().Order.create({ bench_id, bay_no, job_id, body, account, good_until });
  await notify("orders", String(bench_id));
  return id;
}

/** So many seconds from now, by the database's own clock. */
const fromNow = (seconds: number) => literal(`now() + ${seconds} * interval '1 second'`) as unknown as Date;

const COLUMNS = ["id", "bay_no", "job_id", "body", "account"] as const satisfies readonly (keyof Row<Order>)[];
export type WaitingOrder = Row<Order, (typeof COLUMNS)[number]>;

export const waitingOrders = (benchId: number): Promise<WaitingOrder[]> =>
  list(getDb().Order, {
    where: { bench_id: benchId, state: "waiting" },
    attributes: COLUMNS,
    order: ["id"],
    limit: 200,
  });

const late = {
  code: "order-late",
  message: "The bench was busy too long; nothing was done",
  detail: "What is asked of hands and names is good for a moment only",
  hint: "Look at the card, then ask again",
};

const refusedFor = (problem: Problem) => ({ state: "refused" as const, problem, done_at: NOW });

interface Fenced {
  readonly benchId: number;
  readonly fence: string;
}

/** Takes an order to carry it out now. False when its time is over, or it was withdrawn: then it is not carried out. */
export async function takeOrder(id: string, { benchId, fence }: Fenced): Promise<boolean> {
  return inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    const { Order } = getDb();
    const waiting = { id, bench_id: benchId, state: "waiting" as const };
    const [refused] = await Order.update(refusedFor(late), {
      where: { ...waiting, good_until: { [Op.lt]: NOW } },
      transaction,
    });
    if (refused > 0) await notify("order_done", id, transaction);
    const [taken] = await Order.update({ state: "taken" }, { where: waiting, transaction });
    return taken > 0;
  });
}

export async function closeOrder(id: string, { benchId, fence }: Fenced, problem?: Problem): Promise<void> {
  await inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    await getDb().Order.update(problem ? refusedFor(problem) : { state: "done", done_at: NOW }, {
      where: { id, state: "taken" },
      transaction,
    });
  });
  await notify("order_done", id);
}

/** Orders that a process took and did not bring to an end before it died: nobody knows how far they came. */
export async function closeBroken({ benchId, fence }: Fenced): Promise<void> {
  const problem = {
    code: "order-broken",
    message: "The bench process ended while it carried this out",
    hint: "Look at the bay and the card, then ask again if it is still wanted",
  };
  await inTransaction(async (transaction) => {
    await holdFence(benchId, fence, transaction);
    const where = { bench_id: benchId, state: "taken" as const };
    await getDb().Order.update(refusedFor(problem), { where, transaction });
  });
}

/** Longest time without a notice before the order is looked at again all the same. */
const LOOK_EVERY_MS = 1_000;

/**
 * Waits until the bench has carried an order out, at most some milliseconds. `taken`: it is at it. `waiting`: it will be
 * done whenever the bench comes to it. One that is good for a moment only is withdrawn then, and ends as a problem.
 */
export async function awaitOrder(id: string, timeoutMs: number): Promise<"done" | "taken" | "waiting"> {
  const end = performance.now() + timeoutMs;
  let wake: () => void = () => undefined;
  const deaf = hear("orderDone", (done) => done === id && wake());
  try {
    for (;;) {
      const next = new Promise<void>((resolve) => (wake = resolve));
      const order = await getDb().Order.findByPk(id);
      if (order?.state === "refused") throw new ProblemError(order.problem ?? problemOf(new Error("refused")));
      if (order?.state === "done") return "done";
      const leftMs = end - performance.now();
      if (leftMs <= 0) return order?.state === "taken" ? "taken" : await withdraw(id);
      await Promise.race([next, new Promise((resolve) => setTimeout(resolve, Math.min(leftMs, LOOK_EVERY_MS)))]);
    }
  } finally {
    deaf();
  }
}

async function withdraw(id: string): Promise<"waiting" | "taken"> {
  const problem = {
    code: "bench-silent",
    message: "The bench does not answer; nothing was done",
    hint: "See whether its process runs, then ask again",
  };
  const [withdrawn] = await getDb().Order.update(refusedFor(problem), {
    where: { id, state: "waiting", good_until: { [Op.lt]: fromNow(60) } },
  });
  if (withdrawn > 0) throw new ProblemError(problem);
  const now = await getDb().Order.findByPk(id);
  if (now?.state === "refused") throw new ProblemError(now.problem ?? problem);
  return now?.state === "taken" || now?.state === "done" ? "taken" : "waiting";
}
