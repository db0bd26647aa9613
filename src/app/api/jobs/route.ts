import { number, object, string } from "yup";
import { orderUpdate } from "@/server/repositories/jobs";
import { handleJson } from "@/server/web/handle";

const shape = object({
  bayNo: number().integer().min(1).max(24).required(),
  aircraftId: number().integer().positive().required(),
  releaseId: string().max(64).required(),
});

export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", shape, async (body, account) => ({
    id: await orderUpdate({ ...body, account: account.name }),
  }));
}
