import { memberPlan, noPlan, undecidedOf, type MemberPlan } from "@/core/campaign";
import { findTarget, type Catalogue } from "@/core/catalog";
import { planOfGoal, type Goal, type Sources } from "@/core/job";
import { problemOf } from "@/core/problem";
import { lastComplete } from "@/server/repositories/backups";
import { campaignById, membersOfCampaign, type Campaign } from "@/server/repositories/campaigns";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftById } from "@/server/repositories/fleet";
import { keptByPolicy } from "@/server/repositories/policy";
import { readingOf } from "@/server/repositories/readings";
import { standardsOf } from "@/server/repositories/standards";

/** What a job of the campaign would be for, on an aircraft that runs a release; and its sources. */
async function goalFor(
  campaign: Campaign,
  tag: string,
  runs: string,
): Promise<{ readonly goal: Goal; readonly sources: Pick<Sources, "chosen"> }> {
  const { goal: wanted, type } = campaign;
  if (wanted.kind === "update") {
    const { releaseId, ...rest } = wanted;
    return { goal: { ...rest, runs: { main: releaseId } }, sources: {} };
  }
  const [standard] = await standardsOf(type);
  if (!standard) return { goal: { kind: "baseline", runs: { main: runs }, parts: {} }, sources: {} };
  const { parts, keep } = await keptByPolicy(type, tag);
  return {
    goal: { kind: "baseline", runs: { main: runs }, backupId: standard.backup_id, parts, keep },
    sources: { chosen: await readingOf(standard.sha256) },
  };
}

async function planFor(campaign: Campaign, aircraftId: number, tag: string, catalogue: Catalogue): Promise<MemberPlan> {
  const aircraft = await aircraftById(aircraftId);
  const newest = await lastComplete(aircraftId);
  if (!newest || !aircraft)
    return noPlan(tag, {
      code: "backup-none",
      message: "No complete backup of it is on file",
      hint: "Back it up on the bench; its job does that as well, and shows the plan then",
    });
  const { goal, sources } = await goalFor(campaign, tag, newest.release_id);
  const release = catalogue.releases.get(goal.runs.main);
  const target = aircraft.target ?? "";
  if (!release || !findTarget(release, target))
    return noPlan(tag, {
      code: "target-missing",
      message: `It is not built for ${target === "" ? "its board, whose target is not known" : target}`,
      hint: "Leave it out, or order a job of its own for it",
    });
  const board = await readingOf(newest.sha256);
  const plan = planOfGoal(goal, { ...sources, board }, release, target, catalogue);
  return plan.ok ? memberPlan(tag, plan.value) : noPlan(tag, plan.problem);
}

/** What each aircraft meets whom a decision still reaches; one that cannot be planned for says why and holds no other up. */
export async function campaignPlans(campaignId: number): Promise<MemberPlan[]> {
  const campaign = await campaignById(campaignId);
  if (!campaign) return [];
  const catalogue = await loadCatalogue();
  const plans: MemberPlan[] = [];
  for (const { aircraftId, tag } of undecidedOf(await membersOfCampaign(campaign)))
    plans.push(
      await planFor(campaign, aircraftId, tag, catalogue).catch((error: unknown) => noPlan(tag, problemOf(error))),
    );
  return plans;
}
