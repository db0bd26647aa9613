import { ProblemError } from "@/core/problem";
import { serverProblem } from "@/server/away";
import type { Bay } from "@/bench/bay";
import { setClockFactor } from "@/server/repositories/bench";
import { jobById } from "@/server/repositories/jobs";
import { checkOrder, type OrderBody } from "@/contracts/order-shapes";
import { closeOrder, takeOrder, waitingOrders, type WaitingOrder } from "@/server/repositories/orders";

interface Fence {
  readonly benchId: number;
  readonly fence: string;
}

/**
 * Where orders come in. Each bay has a queue of its own, so that nothing in one waits for another; an order to stop waits
 * for nothing at all. What cannot be carried out is refused with its problem, and is never the end of the others.
 */
export class Desk {
  private readonly queues = new Map<number, Promise<void>>();
  private readonly known = new Set<string>();
  private looking: Promise<void> = Promise.resolve();

  constructor(
    private readonly bench: Fence,
    private readonly bays: ReadonlyMap<number, Bay>,
    private readonly onFatal: (error: unknown) => void,
  ) {}

  /** Takes up what has come in since the last look. */
  look(): Promise<void> {
    this.looking = this.looking.then(() => this.dispatch()).catch((error: unknown) => this.onFatal(error));
    return this.looking;
  }

  /** Resolves when everything that was taken up is at its end. */
  async idle(): Promise<void> {
    await this.looking;
    await Promise.all(this.queues.values());
  }

  private async dispatch(): Promise<void> {
    for (const order of await waitingOrders(this.bench.benchId)) {
      if (this.known.has(order.id)) continue;
      this.known.add(order.id);
      const before = this.queues.get(order.bay_no) ?? Promise.resolve();
      const urgent = (order.body as { kind?: unknown } | null)?.kind === "stop";
      const work = (urgent ? Promise.resolve() : before)
        .then(() => this.carryOut(order))
        .catch((error: unknown) => this.onFatal(error))
        .finally(() => this.known.delete(order.id));
      this.queues.set(order.bay_no, urgent ? Promise.all([before, work]).then(() => undefined) : work);
    }
  }

  private async carryOut(order: WaitingOrder): Promise<void> {
    if (!(await takeOrder(order.id, this.bench))) return;
    try {
      await this.obey(checkOrder(order.body), order);
      await closeOrder(order.id, this.bench);
    } catch (error) {
      const problem = serverProblem(error);
      if (problem.code === "bench-fenced") throw error;
      await closeOrder(order.id, this.bench, problem);
    }
  }

  private async obey(body: OrderBody, order: WaitingOrder): Promise<void> {
    const bay = this.bays.get(order.bay_no);
    if (!bay) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    if (body.kind === "clock") {
      for (const each of this.bays.values()) each.setFactor(body.factor);
      await setClockFactor(this.bench.benchId, this.bench.fence, body.factor);
    } else await bay.obey(body, order.account, order.job_id === null ? undefined : await jobById(order.job_id));
  }
}
