import { lazy, mixed, number, object, string, boolean, type InferType, type ObjectSchema } from "yup";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { getDb } from "@/server/db";
import { rows, run, jsonText } from "@/server/sql";
import type { Order } from "@/server/models";

const step = () => string().max(40).required();
const degrees = () => number().min(-180).max(360).required();

/** What the interface may ask of a bench, each with its own shape. */
const shapes = {
  bring: object({ boardId: number().integer().positive().required() }),
  "take-out": object({}),
  plug: object({ button: boolean().default(false), pads: boolean().default(false) }),
  unplug: object({}),
  battery: object({ fitted: boolean().required() }),
  lean: object({ roll: degrees(), pitch: degrees(), heading: degrees() }),
  stick: object({
    index: number().integer().min(0).max(3).required(),
    pulse: number().integer().min(800).max(2200).required(),
  }),
  fault: object({
    name: string().oneOf(["chargeOnlyCable", "swallowLoaderWord", "staysAway", "stallEvery"]).required(),
    value: number().integer().min(0).max(100_000).required(),
  }),
  clock: object({ factor: number().min(0.01).max(1000).required() }),
  decide: object({
    choices: mixed<Record<string, string>>(
      (value): value is Record<string, string> =>
        typeof value === "object" &&
        value !== null &&
        !Array.isArray(value) &&
        Object.entries(value as object).every(([k, v]) => k.length <= 200 && typeof v === "string" && v.length <= 40),
    ).required(),
  }),
  confirm: object({ step: step() }),
  again: object({ step: step() }),
  stop: object({ reason: string().trim().max(400).default("") }),
  sign: object({}),
  begin: object({}),
  "back-up": object({}),
  /** Whose board it is, and which model where the board does not say so itself. */
  give: object({
    tag: string().trim().max(16).required(),
    modelId: string().max(64).required(),
    replace: boolean().default(false),
  }),
} satisfies Record<string, ObjectSchema<object>>;

export type OrderKind = keyof typeof shapes;
export type OrderBody = { [K in OrderKind]: { kind: K } & InferType<(typeof shapes)[K]> }[OrderKind];
export const ORDER_KINDS = Object.keys(shapes) as OrderKind[];

const strict = lazy((value: unknown) => {
  const kind = (value as { kind?: unknown } | null)?.kind;
  const shape = typeof kind === "string" && kind in shapes ? shapes[kind as OrderKind] : undefined;
  const base = object({ kind: string().oneOf(ORDER_KINDS).required() });
  return (shape ? base.concat(shape as unknown as typeof base) : base).noUnknown();
});

export const checkOrder = (value: unknown): OrderBody => strict.validateSync(value) as unknown as OrderBody;

export async function placeOrder(order: {
  benchId: number;
  bayNo: number;
  jobId?: number;
  body: OrderBody;
  account: string;
}): Promise<string> {
  const row = await getDb().Order.create({
    bench_id: order.benchId,
    bay_no: order.bayNo,
    job_id: order.jobId ?? null,
    body: order.body,
    account: order.account,
    problem: null,
    done_at: null,
  });
  await run("select pg_notify('fresh_start_orders', $1)", [String(order.benchId)]);
  return row.id;
}

export const waitingOrders = (
  benchId: number,
): Promise<Pick<Order, "id" | "bay_no" | "job_id" | "body" | "account">[]> =>
  rows(
    "select id, bay_no, job_id, body, account from orders where bench_id = $1 and state = 'waiting' order by id limit 200",
    [benchId],
  );

export async function closeOrder(id: string, problem?: Problem): Promise<void> {
  await run("update orders set state = $2, problem = $3, done_at = now() where id = $1", [
    id,
    problem ? "refused" : "done",
    problem ? jsonText(problem) : null,
  ]);
  await run("select pg_notify('fresh_start_order_done', $1)", [id]);
}

/** Waits until the bench has taken an order, at most some seconds. An order that nobody takes stays and is taken later. */
export async function awaitOrder(id: string, timeoutMs: number): Promise<"done" | "waiting"> {
  const end = Date.now() + timeoutMs;
  for (;;) {
    const order = await getDb().Order.findByPk(id);
    if (order?.state === "refused") throw new ProblemError(order.problem ?? problemOf(new Error("refused")));
    if (order?.state === "done") return "done";
    if (Date.now() > end) return "waiting";
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}
