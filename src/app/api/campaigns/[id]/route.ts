import { array, number, object, string } from "yup";
import { trimmed } from "@/server/shapes";
import { changeCampaign, changeMember, decideForAll, type MemberChange } from "@/server/repositories/campaigns";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

const KINDS = ["decide", "open", "paused", "ended", "leave-out", "take-in", "move"] as const;
const of = (...kinds: (typeof KINDS)[number][]) => ({ is: (kind: unknown) => kinds.some((each) => each === kind) });
const ABOUT_ONE = ["leave-out", "take-in", "move"] as const;

const shape = object({
  kind: string().oneOf(KINDS).required(),
  /** Why it is paused or ended, or why an aircraft is left out. */
  reason: trimmed()
    .max(400)
    .default("")
    .when("kind", {
      ...of("paused", "ended", "leave-out"),
      then: (s) => s.required("Say why; it stands in the record"),
    }),
  tag: string()
    .max(40)
    .when("kind", { ...of(...ABOUT_ONE), then: (s) => s.required() }),
  by: number()
    .oneOf([-1, 1])
    .when("kind", { ...of("move"), then: (s) => s.required() }),
  decisions: array(object({ key: string().max(4000).required(), choiceId: string().max(200).required() }).required())
    .max(500)
    .when("kind", { ...of("decide"), then: (s) => s.min(1).required() }),
});

const changeOf = ({ kind, reason, by }: ReturnType<typeof shape.validateSync>): MemberChange =>
  kind === "leave-out" ? { kind, reason } : kind === "move" ? { kind, by: by === -1 ? -1 : 1 } : { kind: "take-in" };

/** What a lead does with a campaign: decides for all, pauses, lets go on, ends; and with one of its aircraft. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  handleJson(request, "lead", shape, async (body, { name }) => {
    const id = rowId((await params).id);
    const { kind, reason, tag = "", decisions = [] } = body;
    if (kind === "decide") return decideForAll(id, decisions, name);
    if (kind === "open" || kind === "paused" || kind === "ended") return changeCampaign(id, kind, reason, name);
    return changeMember(id, tag, changeOf(body), name);
  });
