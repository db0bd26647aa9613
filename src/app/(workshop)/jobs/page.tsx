import type { Metadata } from "next";
import { JobList } from "@/ui/job/job-list";
import { LinkButton } from "@/ui/base/parts";
import { LISTED_JOBS, listJobs } from "@/server/repositories/jobs";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Jobs" };

export default async function JobsPage() {
  await requirePage();
  const jobs = await listJobs();
  const open = jobs.filter((job) => job.state === "open").length;
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1>{open === 0 ? "No job is open." : open === 1 ? "One job is open." : `${open} jobs are open.`}</h1>
        <div className="flex flex-wrap gap-2">
          <LinkButton href="/campaigns">Campaigns</LinkButton>
          <LinkButton href="/bench/1" look="main">
            Order a job
          </LinkButton>
        </div>
      </div>
      {jobs.length === LISTED_JOBS && (
        <p className="mb-2 text-sm text-faded">
          The open ones and the newest, {LISTED_JOBS} in all; older ones stand on the sheets of their aircraft.
        </p>
      )}
      <JobList
        rows={jobs.map((job) => ({
          id: job.id,
          tag: job.tag,
          headline: job.headline,
          bay: job.bay_no,
          orderedBy: job.ordered_by,
          orderedAt: job.ordered_at.getTime(),
          state: job.state,
        }))}
      />
    </>
  );
}
