import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { oneParam, type SearchParams } from "@/app/params";
import { progressSentence } from "@/core/campaign";
import { allFirmware, LOADER_PART, MAIN_PART, partOf, releaseTitle } from "@/core/catalog";
import { BeginCampaign } from "@/ui/campaign/begin";
import { Mark } from "@/ui/base/mark";
import { Empty, Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { listCampaigns, membersOfCampaign } from "@/server/repositories/campaigns";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { listTypes } from "@/server/repositories/standards";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Campaigns" };

const MARK = { open: "half", paused: "call", ended: "none" } as const;

export default async function CampaignsPage({ searchParams }: { readonly searchParams: SearchParams }) {
  const account = await requirePage();
  const asked = oneParam((await searchParams).type);
  const [campaigns, types, catalogue] = [await listCampaigns(), await listTypes(), await loadCatalogue()];
  const going = campaigns.filter(({ state }) => state !== "ended");
  const campaignLines = await Promise.all(
    campaigns.map(async (campaign) => ({ campaign, sentence: progressSentence(await membersOfCampaign(campaign)) })),
  );
  return (
    <>
      <div className="mb-4 flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>
            {going.length === 0
              ? "No campaign goes on."
              : going.length === 1
                ? "One campaign goes on."
                : `${going.length} campaigns go on.`}
          </h1>
          <p className="text-faded">One goal for every aircraft of a type, at the pace of the bench.</p>
        </div>
        {mayActAs(account.role, "lead") && (
          <BeginCampaign
            type={asked === "" ? undefined : asked}
            types={types.map(({ type, standard_id: standard }) => ({ type, hasStandard: standard !== null }))}
            releases={allFirmware(catalogue)
              // a loader is replaced where a release wants a newer one
              .filter((release) => partOf(release) !== LOADER_PART)
              .map((release) => ({
                id: release.id,
                title: `${releaseTitle(release)}${release.standing === "stable" ? "" : `, ${release.standing}`}`,
                ...(partOf(release) === MAIN_PART ? {} : { part: partOf(release) }),
              }))}
          />
        )}
      </div>
      <Sheet label="Campaigns" className="overflow-x-auto">
        {campaignLines.length === 0 ? (
          <Empty>
            None yet. A lead begins one: a release for a type, or for what is behind its boards, or a type back to its
            standard.
          </Empty>
        ) : (
          <Table
            rows={campaignLines}
            keyOf={({ campaign }) => campaign.id}
            columns={[
              {
                head: "Campaign",
                cell: ({ campaign: { id, title } }) => (
                  <Link href={`/campaigns/${id}`} className="inline-flex min-h-6 items-center">
                    {title}
                  </Link>
                ),
              },
              {
                head: "Where it stands",
                cell: ({ campaign: { state }, sentence }) => (
                  <>
                    <Mark mark={MARK[state]} /> {state === "open" ? "" : `${state}; `}
                    {sentence}
                  </>
                ),
              },
              {
                head: "Begun",
                look: "whitespace-nowrap",
                cell: ({ campaign: { made_at: at, made_by: by } }) => `${dayTime(at.getTime())} by ${by}`,
              },
            ]}
          />
        )}
      </Sheet>
    </>
  );
}
