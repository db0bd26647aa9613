import { resultOf } from "@/core/job";
import { campaignProposals } from "@/core/campaign";
import { proposalsFor, type EarlierPlan, type Plan, type Proposal } from "@/core/carryover";
import { getJson } from "@/server/repositories/blobs";
import { campaignOfJob, decisionsOf } from "@/server/repositories/campaigns";
import type { JobRow } from "@/server/repositories/jobs";
import { rows } from "@/server/sql";
import { readJob } from "@/server/web/job-view";

/** So many of the last plans are looked at: what was decided long ago was decided by what was known then. */
const LOOKED_AT = 5;

/** The plans that were taken last on other aircraft of the type, to the same release. */
async function earlierPlans(job: JobRow): Promise<EarlierPlan[]> {
  const found = await rows<{ id: number }>(
    `select j.id from jobs j join aircraft a on a.id = j.aircraft_id
     where a.type = (select type from aircraft where id = $1) and j.id <> $2 and j.state = 'finished' and j.goal ->> 'releaseId' = $3
     order by j.ended_at desc, j.id desc limit ${LOOKED_AT}`,
    [job.aircraft_id, job.id, job.goal.releaseId],
  );
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
export const plansLikeThis = (
  job: JobRow,
): Promise<{ readonly id: number; readonly tag: string; readonly headline: string; readonly at: Date }[]> =>
  rows(
    `select j.id, a.tag, j.headline, j.ordered_at as at from jobs j join aircraft a on a.id = j.aircraft_id
     where a.type = (select type from aircraft where id = $1) and j.id <> $2
       and exists (select 1 from journal e where e.job_id = j.id and e.entry ->> 'kind' = 'done' and e.entry ->> 'step' in ('back-up', 'plan'))
     order by (j.goal ->> 'releaseId' = $3) desc, j.id desc limit 40`,
    [job.aircraft_id, job.id, job.goal.releaseId],
  );
