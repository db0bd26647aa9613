import { resultOf } from "@/core/job";
import { campaignProposals } from "@/core/campaign";
import { proposalsFor, type EarlierPlan, type Plan, type Proposal } from "@/core/carryover";
import { getJson } from "@/server/repositories/blobs";
import { campaignOfJob, decisionsOf } from "@/server/repositories/campaigns";
import type { JobRow } from "@/server/repositories/jobs";
import { literal, Op, where } from "sequelize";
import { getDb } from "@/server/db";
import { first, list } from "@/server/sql";
import { readJob } from "@/server/web/job-view";

/** The release that the main part of a job shall run; earlier goals name no part. */
const WRITES = `coalesce("Job".goal #>> '{runs,main}', "Job".goal ->> 'releaseId')`;

/** So many of the last plans are looked at: what was decided long ago was decided by what was known then. */
const LOOKED_AT = 5;

/** Its aircraft is of the same type as the one of a job. */
async function ofTheType(job: JobRow) {
  const aircraft = await first(getDb().Aircraft, { where: { id: job.aircraft_id }, attributes: ["type"] });
  return { association: "aircraft", attributes: ["tag"], where: { type: aircraft?.type ?? "" }, required: true };
}

/** The plans that were taken last on other aircraft of the type, to the same release. */
async function earlierPlans(job: JobRow): Promise<EarlierPlan[]> {
  const found = await list(getDb().Job, {
    where: {
      [Op.and]: [{ id: { [Op.ne]: job.id }, state: "finished" }, where(literal(WRITES), job.goal.runs.main)],
    },
    attributes: ["id"],
    include: [await ofTheType(job)],
    order: [
      ["ended_at", "desc"],
      ["id", "desc"],
    ],
    limit: LOOKED_AT,
  });
  const plans: EarlierPlan[] = [];
  for (const { id } of found) {
    // a record that cannot be read proposes nothing
    const view = await readJob(id).catch(() => undefined);
    const planSha = view && resultOf(view.state, "plan").planSha;
    if (!view || planSha === undefined) continue;
    const { decisions, decidedBy } = view.state;
    plans.push({ tag: view.job.tag, plan: (await getJson(planSha)) as Plan, decisions, decidedBy });
  }
  return plans;
}

/** What is proposed for a plan: as it was decided for its campaign, else as on other aircraft of the type. */
export async function proposed(job: JobRow, plan: Plan): Promise<Readonly<Record<string, Proposal>>> {
  const campaign = await campaignOfJob(job.id);
  const before = proposalsFor(plan, await earlierPlans(job));
  if (!campaign) return before;
  return { ...before, ...campaignProposals(plan, await decisionsOf(campaign.id), campaign.title) };
}

/** Plans that this one can be held against: of its own aircraft and of others of the type, the newest first. */
export async function plansLikeThis(
  job: JobRow,
): Promise<{ readonly id: number; readonly tag: string; readonly headline: string; readonly at: Date }[]> {
  const { Job } = getDb();
  const planned = literal(
    `exists (select from journal e where e.job_id = "Job".id and e.entry ->> 'kind' = 'done' and e.entry ->> 'step' in ('back-up', 'plan'))`,
  );
  const sameRelease = Job.sequelize?.escape(job.goal.runs.main) ?? "''";
  const found = await list(Job, {
    where: { [Op.and]: [{ id: { [Op.ne]: job.id } }, planned] },
    attributes: ["id", "headline", "ordered_at"],
    include: [await ofTheType(job)],
    order: [literal(`${WRITES} = ${sameRelease} desc`), ["id", "desc"]],
    limit: 40,
  });
  return found.map(({ id, aircraft, headline, ordered_at: at }) => ({ id, tag: aircraft?.tag ?? "", headline, at }));
}
