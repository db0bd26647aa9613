import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { currentStep } from "@/core/job";
import { PlanView } from "@/ui/plan/plan-view";
import { Empty, LinkButton, Sheet } from "@/ui/base/parts";
import { mayActAs } from "@/server/roles";
import { planOfJob, readJob, sourceBackupOf } from "@/server/web/job-view";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export const metadata: Metadata = { title: "Carry-over plan" };

export default async function PlanPage({ params }: Props) {
  const account = await requirePage();
  const view = await readJob(rowId((await params).id));
  if (!view) notFound();
  const plan = await planOfJob(view);
  if (!plan)
    return (
      <Sheet>
        <Empty>The plan is worked out from the backup of this visit, and there is none yet.</Empty>
        <p className="px-4 pb-4">
          <LinkButton href={`/jobs/${view.job.id}`}>Back to the card</LinkButton>
        </p>
      </Sheet>
    );
  const { state, job } = view;
  const open = state.phase === "open" && currentStep(state)?.id === "plan" && mayActAs(account.role, "technician");
  const deciders = Object.fromEntries(Object.entries(state.decidedBy).map(([id, by]) => [id, by.account]));
  return (
    <PlanView
      jobId={job.id}
      tag={job.tag}
      backupId={sourceBackupOf(view)}
      boardBackupId={view.state.data.backupId ?? 0}
      plan={plan}
      decisions={state.decisions}
      deciders={deciders}
      open={open}
      mayLead={mayActAs(account.role, "lead")}
    />
  );
}
