import { readOutside } from "@/server/outside/pool";
import { handleGet } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** What each aircraft whose turn is to come would meet; worked out away from the web's own thread. */
export const GET = (_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  handleGet("observer", async () => ({
    plans: await readOutside("campaign-plans", { campaignId: rowId((await params).id) }),
  }));
