import { array, number, object, string } from "yup";
import { trimmed } from "@/contracts/shapes";
import { changeCampaign, changeMember, decideForAll, type MemberChange } from "@/server/repositories/campaigns";
import { callsOf, TAKEN_BACK, type Call, type WantedDecision } from "@/core/campaign";
import { readOutside } from "@/server/outside/pool";
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
  decisions: array(
    object({
      key: string().max(4000).required(),
      choiceId: string().max(200).required(),
      /** What stood there when whoever decides looked; empty: nothing did. */
      before: string().max(200).default(""),
    }).required(),
  )
    .max(500)
    .when("kind", { ...of("decide"), then: (s) => s.min(1).required() }),
});

/** What a campaign's aircraft meet takes a while to work out, and many decisions come one after the other. */
const KEPT_MS = 15_000;
const kept = new Map<number, { readonly at: number; readonly calls: Promise<readonly Call[]> }>();

/** What the aircraft of a campaign meet: as it was a moment ago, unless somebody wants what was not offered then. */
async function callsFor(id: number, wanted: readonly WantedDecision[]): Promise<readonly Call[]> {
  const known = kept.get(id);
  if (known && Date.now() - known.at < KEPT_MS) {
    const calls = await known.calls;
    const offered = ({ key, choiceId }: WantedDecision) =>
      choiceId === TAKEN_BACK || calls.some((call) => call.key === key && call.choices.some((c) => c.id === choiceId));
    if (wanted.every(offered)) return calls;
  }
  const calls = readOutside("campaign-plans", { campaignId: id }).then((plans) => callsOf(plans));
  kept.set(id, { at: Date.now(), calls });
  calls.catch(() => kept.delete(id));
  return calls;
}

const changeOf = ({ kind, reason, by }: ReturnType<typeof shape.validateSync>): MemberChange =>
  kind === "leave-out" ? { kind, reason } : kind === "move" ? { kind, by: by === -1 ? -1 : 1 } : { kind: "take-in" };

/** What a lead does with a campaign: decides for all, pauses, lets go on, ends; and with one of its aircraft. */
export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  handleJson(request, "lead", shape, async (body, { name }) => {
    const id = rowId((await params).id);
    const { kind, reason, tag = "", decisions = [] } = body;
    if (kind === "decide") {
      return decideForAll(id, decisions, await callsFor(id, decisions), name);
    }
    if (kind === "open" || kind === "paused" || kind === "ended") return changeCampaign(id, kind, reason, name);
    return changeMember(id, tag, changeOf(body), name);
  });
