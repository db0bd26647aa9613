import { boolean, mixed, number, object, string } from "yup";
import { trimmed } from "@/server/shapes";
import { PART_FROM, type Parts } from "@/core/carryover";
import { needAreas } from "@/server/repositories/areas";
import { orderJob, type JobWish } from "@/server/repositories/jobs";
import { scopeFrom, scopeShape } from "@/server/web/scope-shape";
import { handleJson } from "@/server/web/handle";

const insteadShape = object({ target: string().max(64).required(), reason: trimmed().max(400).default("") });
/** Areas are the workshop’s, and those that releases bring. */
const AREA_NAME = /^[a-z][a-z0-9 -]{0,63}$/;
// what is not known is refused, and not dropped: a misspelt area would come from the baseline in silence
const isParts = (value: unknown): value is Parts =>
  typeof value === "object" &&
  value !== null &&
  !Array.isArray(value) &&
  Object.entries(value).every(([area, from]) => AREA_NAME.test(area) && PART_FROM.some((each) => each === from));
const parts = mixed<Parts>({
  check: isParts,
  type: "areas",
}).typeError(`parts names areas of settings, each from one of: ${PART_FROM.join(", ")}`);

/** Where the fields that a kind of goal does not have are not asked for. */
const KINDS = ["update", "set-up", "revive", "commission", "baseline", "campaign"] as const;
const of = (...kinds: (typeof KINDS)[number][]) => ({
  is: (kind: unknown) => kinds.some((each) => each === kind),
});

/**
 * A release to update to, a backup to set the board up from (on another release than it runs, where one is named), a release
 * to revive it on or to commission it with, or a baseline to go back to.
 */
const shape = object({
  bayNo: number().integer().min(1).max(24).required(),
  aircraftId: number().integer().positive().required(),
  goal: string().oneOf(KINDS).required(),
  releaseId: string()
    .max(64)
    .when("goal", { ...of("update", "revive", "commission"), then: (s) => s.required() }),
  backupId: number()
    .integer()
    .positive()
    .when("goal", { ...of("set-up"), then: (s) => s.required() }),
  campaignId: number()
    .integer()
    .positive()
    .when("goal", { ...of("campaign"), then: (s) => s.required() }),
  /** Which baseline, and where each area comes from that is decided on. */
  base: string()
    .max(100)
    .when("goal", { ...of("baseline"), then: (s) => s.required() }),
  parts: parts.default({}).defined(),
  /** Why the backup is taken, although it is not complete. */
  although: trimmed().max(400).default(undefined).optional(),
  /** The firmware on it is of another target than its model takes: that of its model is written. */
  asModel: boolean().default(false),
  /** The part of the settings that comes along. */
  scope: scopeShape.default(undefined).optional(),
  /** Another target than the board's own, and why. */
  instead: insteadShape.default(undefined).optional(),
});

function goalOf(body: ReturnType<typeof shape.validateSync>): JobWish["goal"] {
  const { goal, releaseId = "", backupId = 0, base = "", instead: other } = body;
  const although = body.although === undefined ? {} : { although: body.although };
  if (goal === "set-up")
    return { kind: goal, backupId, parts: body.parts, ...although, ...(releaseId === "" ? {} : { releaseId }) };
  if (goal === "campaign") return { kind: goal, campaignId: body.campaignId ?? 0 };
  if (goal === "baseline") return { kind: goal, base, parts: body.parts };
  const instead = other ? { instead: other } : {};
  if (goal === "update") return { kind: goal, releaseId, ...instead, ...(body.asModel ? { asModel: true } : {}) };
  if (goal === "commission")
    return { kind: goal, releaseId, ...instead, ...(backupId === 0 ? {} : { backupId, ...although }) };
  return { kind: goal, releaseId, ...instead };
}

export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "technician", shape, async (body, account) => {
    await needAreas(Object.keys(body.parts));
    const id = await orderJob({
      bayNo: body.bayNo,
      aircraftId: body.aircraftId,
      account: account.name,
      goal: goalOf(body),
      ...(body.scope ? { scope: scopeFrom(body.scope) } : {}),
    });
    return { id };
  });
}
