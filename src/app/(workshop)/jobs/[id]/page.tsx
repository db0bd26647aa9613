import { resultOf, backupOf, modelOf, targetOf, carriedBy } from "@/core/job";
import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { CardHead, JobSteps } from "@/ui/job/card";
import { AskButton } from "@/ui/base/ask";
import { Facts, ProblemNote, Sheet } from "@/ui/base/parts";
import { StateShape } from "@/ui/base/mark";
import { clockTime } from "@/ui/base/time";
import { loadCatalogue, newerThan } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { cardOf, readJobAnyway, type TroubledJob } from "@/server/web/job-view";
import { requirePage } from "@/server/web/session";
import { releaseTitle } from "@/core/catalog";
import { BoardNow } from "@/ui/job/board-now";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const view = await readJobAnyway(rowId((await params).id));
  return { title: view ? `${view.job.tag}: ${view.job.headline}` : "Job" };
}

/** A job whose record cannot be read: what is known of it, and the way out. */
function Troubled({ of: { job, trouble }, mayStop }: { readonly of: TroubledJob; readonly mayStop: boolean }) {
  return (
    <div className="grid max-w-[46rem] gap-4">
      <div>
        <h1>{job.headline}</h1>
        <p className="text-faded">
          Visit {job.id} · <Link href={`/aircraft/${job.tag}`}>{job.tag}</Link> · ordered by {job.ordered_by} · bay{" "}
          {job.bay_no}
        </p>
      </div>
      <ProblemNote problem={trouble} />
      {job.state === "open" && mayStop && (
        <div>
          <AskButton path={`/api/jobs/${job.id}`} body={{ kind: "stop", reason: trouble.message, writing: true }}>
            Stop this job
          </AskButton>
        </div>
      )}
    </div>
  );
}

export default async function JobPage({ params }: Props) {
  const account = await requirePage();
  const view = await readJobAnyway(rowId((await params).id));
  if (!view) notFound();
  if ("trouble" in view) return <Troubled of={view} mayStop={mayActAs(account.role, "technician")} />;
  const [card, catalogue] = [cardOf(view), await loadCatalogue()];
  const mayWork = mayActAs(account.role, "technician");
  const { state } = view;
  const { planSha } = resultOf(state, "plan");
  const { readBackId } = resultOf(state, "prove");
  const proved = carriedBy(view.job.goal).some((part) => resultOf(state, "prove", part).proofSha !== undefined);
  const [backupId, target, modelId] = [backupOf(state), targetOf(state), modelOf(state)];
  const newer = card.phase === "open" ? await newerThan(view.job.documents) : [];
  const model = catalogue.models.get(modelId ?? "");
  const from = catalogue.releases.get(resultOf(state, "know-board").fromRelease ?? "");
  const unknown = card.phase === "open" ? "not known yet" : "not known";
  const backedUp = state.steps.find(({ kind }) => kind === "back-up");
  return (
    <>
      <CardHead card={card} mayWork={mayWork} />
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <JobSteps card={card} mayWork={mayWork} />
        <div className="grid min-w-0 gap-4">
          {backedUp?.status === "done" && (
            <Sheet label="Safety" className="px-4 py-3.5">
              <h2 className="flex items-center gap-2">
                <StateShape shape="disc" />
                The settings are backed up
              </h2>
              <p className="mt-1.5 text-sm">
                <Link href={`/backups/${backupId ?? 0}`}>The whole of {card.tag}</Link> as it was at{" "}
                {clockTime(backedUp.endedAt ?? 0)} is kept.
                {card.phase === "open" &&
                  " If the cable comes out, plug it in again: the job goes on from what the board holds."}
              </p>
            </Sheet>
          )}
          {newer.length > 0 && (
            <Sheet label="Documents" className="px-4 py-3.5">
              <h2 className="flex items-center gap-2">
                <StateShape shape="triangle" />
                Newer documents came in
              </h2>
              <p className="mt-1.5 text-sm">
                The job goes on with what it began with:{" "}
                {newer.map(({ id, had, version }) => `${id} version ${had} (now ${version})`).join(", ")}. Stop this job
                and order it again to use the newer.
              </p>
            </Sheet>
          )}
          {card.phase === "stopped" && (
            <Sheet label="Stopped" className="px-4 py-3.5">
              <h2>It was stopped</h2>
              <p className="mt-1 text-sm">
                Reason: {card.stopReason ?? "none given"}. The aircraft is out of service until another job ends signed
                off.
              </p>
            </Sheet>
          )}
          <Sheet label="This board" className="px-4 py-3.5">
            <h2 className="mb-2">This board</h2>
            <Facts
              facts={[
                ["Model", model?.title ?? unknown],
                ["Processor", model?.processor ?? unknown],
                [
                  "Target",
                  <span key="t" className="key">
                    {target ?? unknown}
                  </span>,
                ],
                [
                  "Chip id",
                  <span key="c" className="key">
                    {view.job.chip_id}
                  </span>,
                ],
                ["Ran before", from ? `${releaseTitle(from)} of ${from.builtOn}` : unknown],
              ]}
            />
            {card.phase === "open" && <BoardNow bayNo={view.job.bay_no} mayWork={mayWork} />}
          </Sheet>
          {card.phase === "open" && card.begun && planSha === undefined && backupId !== undefined && (
            <Sheet label="Plan" className="px-4 py-3.5">
              <h2>The plan</h2>
              <p className="mt-1 text-sm">
                <Link href={`/jobs/${card.id}/plan`}>What will change, value by value</Link>
              </p>
            </Sheet>
          )}
          {planSha !== undefined && (
            <Sheet label="Papers" className="px-4 py-3.5">
              <h2>Papers of this visit</h2>
              <ul className="mt-1 grid gap-0.5 text-sm [&_a]:inline-flex [&_a]:min-h-6 [&_a]:items-center">
                <li>
                  <Link href={`/backups/${backupId ?? 0}`}>Backup before the change</Link>
                </li>
                <li>
                  <Link href={`/jobs/${card.id}/plan`}>Plan with its decisions</Link>
                </li>
                {proved && (
                  <li>
                    <Link href={`/jobs/${card.id}/proof`}>Proof, value by value</Link>
                  </li>
                )}
                {readBackId !== undefined && (
                  <li>
                    <Link href={`/backups/${readBackId}`}>Read-back after the restore</Link>
                  </li>
                )}
              </ul>
            </Sheet>
          )}
        </div>
      </div>
    </>
  );
}
