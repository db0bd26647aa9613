import { memberPlan, noPlan, undecidedOf, type CampaignGoal, type MemberPlan } from "@/core/campaign";
import { findTarget, type Catalogue } from "@/core/catalog";
import type { Goal } from "@/core/job";
import { problemOf, type Problem } from "@/core/problem";
import { lastComplete } from "@/server/repositories/backups";
import { partsAhead } from "@/server/repositories/campaign-parts";
import { campaignById, membersOfCampaign, type Campaign } from "@/server/repositories/campaigns";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { planFor } from "@/server/repositories/job-plans";
import { keptByPolicy } from "@/server/repositories/policy";
import { standardsOf } from "@/server/repositories/standards";

const NO_BACKUP: Problem = {
  code: "backup-none",
  message: "No complete backup of it is on file",
  hint: "Back it up on the bench; its job does that as well, and shows the plan then",
};

/** What a job of the campaign would be for, on an aircraft that runs a release. */
async function goalFor(
  { goal: wanted, type }: { readonly goal: Exclude<CampaignGoal, { kind: "parts" }>; readonly type: string },
  tag: string,
  runs: string,
): Promise<Goal> {
  if (wanted.kind === "update") {
    const { releaseId, ...rest } = wanted;
    return { ...rest, runs: { main: releaseId } };
  }
  const [standard] = await standardsOf(type);
  if (!standard) return { kind: "baseline", runs: { main: runs }, parts: {} };
  const { parts, keep } = await keptByPolicy(type, tag);
  return { kind: "baseline", runs: { main: runs }, backupId: standard.backup_id, parts, keep };
}

async function lookAhead(
  campaign: Campaign,
  aircraftId: number,
  tag: string,
  catalogue: Catalogue,
): Promise<MemberPlan> {
  const aircraft = await aircraftById(aircraftId);
  const newest = await lastComplete(aircraftId);
  if (!newest || !aircraft) return noPlan(tag, NO_BACKUP);
  const { goal: wanted } = campaign;
  if (wanted.kind === "parts") return partsAhead(aircraft, newest.release_id, wanted.releaseId, catalogue);
  const goal = await goalFor({ goal: wanted, type: campaign.type }, tag, newest.release_id);
  const release = catalogue.releases.get(goal.runs.main);
  const target = aircraft.target ?? "";
  if (!release || !findTarget(release, target))
    return noPlan(tag, {
      code: "target-missing",
      message: `It is not built for ${target === "" ? "its board, whose target is not known" : target}`,
      hint: "Leave it out, or order a job of its own for it",
    });
  const plan = await planFor({ goal, target, taken: newest.id }, catalogue);
  return plan ? memberPlan(tag, plan) : noPlan(tag, NO_BACKUP);
}

/** What each aircraft meets whom a decision still reaches; one that cannot be planned for says why and holds no other up. */
export async function campaignPlans(campaignId: number): Promise<MemberPlan[]> {
  const campaign = await campaignById(campaignId);
  if (!campaign) return [];
  const catalogue = await loadCatalogue();
  const plans: MemberPlan[] = [];
  for (const { aircraftId, tag } of undecidedOf(await membersOfCampaign(campaign)))
    plans.push(
      await lookAhead(campaign, aircraftId, tag, catalogue).catch((error: unknown) => noPlan(tag, problemOf(error))),
    );
  return plans;
}
