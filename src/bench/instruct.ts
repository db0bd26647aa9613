import { campaignProposals } from "@/core/campaign";
import { openItems, waysOf, type Plan } from "@/core/carryover";
import { signKey } from "@/core/identify";
import { currentStep, foldJob, mayReopen, stepSpec, type Entry, type JobState, type StepState } from "@/core/job";
import { ProblemError, problemOf } from "@/core/problem";
import { orderOf } from "@/bench/pg-store";
import { amendedPlan, planOf } from "@/bench/steps/plan";
import type { JobStore } from "@/bench/store";
import { personOf, roleOf } from "@/server/accounts";
import { campaignOfJob, decisionsOf } from "@/server/repositories/campaigns";
import type { JobRow } from "@/server/repositories/jobs";
import type { OrderBody } from "@/contracts/order-shapes";

/** A job that runs in a bay, as far as a person's word reaches it. */
export interface Instructed {
  readonly row: JobRow;
  readonly store: JobStore;
  /** Ends the step that is being tried. */
  readonly attempt: AbortController | undefined;
}

const late = (what: string, step: StepState | undefined) =>
  new ProblemError({
    code: "too-late",
    message: `${what} is not asked for now`,
    detail: `The job stands at: ${step?.id ?? "its end"}`,
    hint: "Look at the card again",
  });

/** Characters that a reason has at least. */
const LEAST_REASON = 3;

const unreasoned = "no reason given";

/** How often a word is judged anew that the job's own entries have overtaken. */
const JUDGED_AGAIN = 8;

/** A person's word to a job: judged by where its journal stands, and recorded with the name before anything else is. */
export async function instruct(
  body: OrderBody,
  account: string,
  row: JobRow | undefined,
  bay: { readonly job: Instructed | undefined; storeOf(row: JobRow): JobStore },
): Promise<void> {
  const { job } = bay;
  if (body.kind === "stop" && row?.state === "open" && !job) {
    await bay.storeOf(row).append({ kind: "stopped", reason: body.reason || unreasoned }, account);
    return;
  }
  if (!job || job.row.id !== row?.id)
    throw new ProblemError({
      code: "job-not-running",
      message: "This job is not running",
      hint: "Look at the card: it may be finished or stopped",
    });
  for (let round = 1; ; round++)
    try {
      return await judge(body, account, job);
    } catch (error) {
      if (problemOf(error).code !== "job-moved-on" || round === JUDGED_AGAIN) throw error;
    }
}

async function judge(body: OrderBody, account: string, job: Instructed): Promise<void> {
  const { steps } = job.row;
  const entries = await job.store.entries();
  const state = foldJob(steps, entries);
  const step = currentStep(state);
  const say = (entry: Entry) => job.store.append(entry, account, entries.length);
  switch (body.kind) {
    case "decide": {
      if (step?.id !== "plan") throw late("A decision", step);
      const decided = await decide(body.choices, account, job, state);
      if (decided) await say(decided);
      break;
    }
    case "take":
      if (step?.need?.kind !== "take" || state.taken) throw late("Taking the plan", step);
      if (step.need.asks.length > 0) await needLead(account, step.need.asks.join(" "), "take this plan");
      await say({ kind: "taken" });
      break;
    case "reopen":
      if (!mayReopen(steps, state)) throw late("Laying the plan open again", step);
      await say({ kind: "reopened" });
      job.attempt?.abort();
      break;
    case "confirm":
      if (step?.id !== body.step) throw late("A confirmation", step);
      if (step.need?.kind === "against") {
        const { reason = "" } = body;
        if (reason.length < LEAST_REASON)
          throw new ProblemError({
            code: "reason-wanted",
            message: "Going on against what the board says needs a reason",
            hint: "Say in a sentence why you go on all the same, or stop the job",
          });
        await say({ kind: "confirmed", step: step.id, signs: step.need.readings.map(signKey), reason });
        break;
      }
      if (step.need?.kind !== "confirm") throw late("A confirmation", step);
      await say({ kind: "confirmed", step: step.id });
      break;
    case "again": {
      // what has failed on one of several parts is tried again while the others are gone on with
      const asked =
        step?.id === body.step ? step : state.steps.find(({ id, status }) => id === body.step && status === "failed");
      if (!asked || asked.status === "running") throw late("Another try", step);
      await say({ kind: "again", step: asked.id });
      break;
    }
    case "as-asked":
      if (step?.id !== body.step || stepSpec(steps, step).shows === undefined || step.status !== "running")
        throw late("This word", step);
      await say({ kind: "noted", step: step.id, text: `${account} moved it as asked`, code: "as-asked" });
      // the check looks at once at what the board feels now
      job.attempt?.abort();
      break;
    case "correct": {
      if (step?.id !== body.step || step.need?.kind !== "check" || !step.need.correction)
        throw late("A correction", step);
      const { correction, say: why } = step.need;
      const made = await amendedPlan(
        { store: job.store, state, catalogue: await job.store.catalogue(), job: orderOf(job.row) },
        correction,
        account,
      );
      await say({ kind: "amended", step: step.id, itemId: correction.itemId, shown: correction.label, why, ...made });
      break;
    }
    case "sign":
      // until the job has gone on its step still waits: nobody signs beside somebody who has signed
      if (step?.need?.kind !== "sign" || state.signed) throw late("A sign-off", step);
      await say({ kind: "signed", statement: step.need.say, person: await personOf(account) });
      break;
    case "stop":
      if (step?.status === "running" && !body.writing && stepSpec(steps, step).writes === true)
        throw new ProblemError({
          code: "stop-writing",
          message: "The board is being written to",
          hint: "Wait until this step is done; or stop it all the same: the board will not fly before another job has ended on it",
        });
      // nothing that the job does meanwhile keeps somebody from stopping it who has said “all the same”
      await job.store.append(
        { kind: "stopped", reason: body.reason || unreasoned },
        account,
        body.writing ? undefined : entries.length,
      );
      job.attempt?.abort();
      break;
    default:
      throw new ProblemError({ code: "order-unknown", message: "The bench does not know this order" });
  }
}

async function needLead(account: string, detail: string, what: string): Promise<void> {
  if ((await roleOf(account)) === "lead") return;
  throw new ProblemError({
    code: "lead-wanted",
    message: "Only a lead may decide this",
    detail,
    hint: `Ask a lead to ${what}, or choose another way out`,
  });
}

/** What is decided, unless nothing is. Throws a problem where the plan offers no such choice, or not to this account. */
async function decide(
  choices: Readonly<Record<string, string>>,
  account: string,
  { row, store }: Instructed,
  state: JobState,
): Promise<Entry | undefined> {
  const plan = await planOf({ store, state, job: orderOf(row) });
  const chosen = Object.entries(choices).map(([id, choiceId]) => {
    const item = plan.items.find((each) => each.id === id);
    const choice = item && waysOf(item).find((each) => each.id === choiceId);
    if (choice) return { ...choice, itemId: id };
    throw new ProblemError({
      code: "choice-unknown",
      message: "The plan offers no such choice",
      detail: `${id}: ${choiceId}`,
    });
  });
  const ofLead = chosen.filter(({ by }) => by === "lead");
  const after = ofLead.length === 0 ? undefined : await leadOfAll(row.id, plan, ofLead);
  if (ofLead.length > 0 && after === undefined)
    await needLead(account, "Something would be left off that this aircraft has", "take this decision");
  if (openItems(plan, state.decisions).length === 0 && chosen.length === 0) return undefined;
  return { kind: "decided", choices, ...(after === undefined ? {} : { after }) };
}

/** Who decided all of these for the campaign that a job belongs to; only a lead may do that. */
async function leadOfAll(
  jobId: number,
  plan: Plan,
  chosen: readonly { readonly id: string; readonly itemId: string }[],
): Promise<string | undefined> {
  const campaign = await campaignOfJob(jobId);
  if (!campaign) return undefined;
  const proposals = campaignProposals(plan, await decisionsOf(campaign.id), campaign.title);
  const found = chosen.map(({ id, itemId }) => (proposals[itemId]?.choiceId === id ? proposals[itemId] : undefined));
  return found.every((each) => each !== undefined)
    ? [...new Set(found.map((each) => `${each.account}, ${each.tag}`))].join("; ")
    : undefined;
}
