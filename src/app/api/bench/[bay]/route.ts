import { benchOfBay } from "@/server/repositories/bench";
import { checkOrder } from "@/contracts/order-shapes";
import { awaitOrder, placeOrder } from "@/server/repositories/orders";
import { ProblemError } from "@/core/problem";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** Hands on a bay: what is asked is handed to the bench, and its answer awaited for a moment. */
export async function POST(request: Request, { params }: { params: Promise<{ bay: string }> }): Promise<Response> {
  const bayNo = rowId((await params).bay);
  return handleJson(request, "technician", checkOrder, async (body, account) => {
    const bench = await benchOfBay(bayNo);
    if (!bench) throw new ProblemError({ code: "bay-none", message: "There is no such bay" });
    const id = await placeOrder({ benchId: bench.id, bayNo, body, account: account.name });
    return { state: await awaitOrder(id, 6_000) };
  });
}
