import { ProblemError } from "@/core/problem";
import { jobById } from "@/server/repositories/jobs";
import { checkOrder } from "@/contracts/order-shapes";
import { awaitOrder, placeOrder } from "@/server/repositories/orders";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** A word to a job: begin, decide, confirm, again, sign, stop. The bench judges whether it is the time for it. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = rowId((await params).id);
  return handleJson(request, "technician", checkOrder, async (body, account) => {
    const job = Number.isSafeInteger(id) ? await jobById(id) : undefined;
    if (!job) throw new ProblemError({ code: "job-none", message: "There is no such job" });
    const order = await placeOrder({
      benchId: job.bench_id,
      bayNo: job.bay_no,
      jobId: job.id,
      body,
      account: account.name,
    });
    return { state: await awaitOrder(order, 6_000) };
  });
}
