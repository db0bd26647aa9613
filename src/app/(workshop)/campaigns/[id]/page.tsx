import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { progressSentence, standingOf, undecidedOf } from "@/core/campaign";
import { CampaignControls } from "@/ui/campaign/controls";
import { CampaignMembers } from "@/ui/campaign/members";
import { CampaignPlans } from "@/ui/campaign/plans";
import { Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { campaignById, decisionsOf, membersOfCampaign } from "@/server/repositories/campaigns";
import { mayActAs } from "@/server/roles";
import { rowId } from "@/server/web/row-id";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const campaign = await campaignById(rowId((await params).id));
  return { title: campaign?.title ?? "Campaign" };
}

export default async function CampaignPage({ params }: Props) {
  const account = await requirePage();
  const campaign = await campaignById(rowId((await params).id));
  if (!campaign) notFound();
  const members = await membersOfCampaign(campaign);
  const decisions = await decisionsOf(campaign.id);
  const isLead = mayActAs(account.role, "lead");
  const waiting = undecidedOf(members).length;
  return (
    <>
      <div className="mb-4 flex flex-wrap items-start justify-between gap-3">
        <div className="min-w-0">
          <h1>
            {campaign.title}: {progressSentence(members)}
          </h1>
          <p className="text-faded">
            Begun {dayTime(campaign.made_at.getTime())} by {campaign.made_by}
            {campaign.note === "" ? "" : `: ${campaign.note}`}
            {campaign.state === "open" || campaign.changed_at === null
              ? ""
              : `. ${campaign.state === "paused" ? "Paused" : "Ended"} ${dayTime(campaign.changed_at.getTime())} by ${campaign.changed_by ?? ""}: ${campaign.state_reason}`}
            .
          </p>
        </div>
        {isLead && campaign.state !== "ended" && <CampaignControls id={campaign.id} state={campaign.state} />}
      </div>
      <div className="grid gap-5">
        <Sheet label="Aircraft" className="overflow-x-auto">
          <CampaignMembers
            id={campaign.id}
            isLead={isLead && campaign.state !== "ended"}
            members={members.map(({ endedAt, job, ...member }) => ({
              ...member,
              ...(job ? { job } : {}),
              standing: standingOf({ leftOut: member.leftOut, isThere: member.isThere, ...(job ? { job } : {}) }),
              ...(endedAt ? { ended: dayTime(endedAt.getTime()) } : {}),
            }))}
          />
        </Sheet>
        {waiting > 0 && campaign.state !== "ended" && (
          <CampaignPlans
            key={members.map(standingOf).join()}
            id={campaign.id}
            waiting={waiting}
            isLead={isLead}
            decisions={decisions}
          />
        )}
      </div>
    </>
  );
}
