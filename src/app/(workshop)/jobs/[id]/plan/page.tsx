import type { Metadata } from "next";
import { told } from "@/app/told";
import { VisitHead } from "@/app/visit-head";
import { oneParam, type SearchParams } from "@/app/params";
import { notFound } from "next/navigation";
import { openDecisions } from "@/core/carryover";
import { carriedBy, currentStep, mayReopen, scopeOf, backupOf } from "@/core/job";
import { PlanView } from "@/ui/plan/plan-view";
import { Empty, LinkButton, Sheet } from "@/ui/base/parts";
import { mayActAs } from "@/server/roles";
import { proposed } from "@/server/web/earlier-plans";
import { linesOfPlan } from "@/server/web/plan-lines";
import { onBoardOfJob, planOfJob, readJob, planParts, sourceBackupOf } from "@/server/web/job-view";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
  readonly searchParams: SearchParams;
}

export const metadata: Metadata = { title: "Carry-over plan" };

async function PlanPage({ params, searchParams }: Props) {
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
  const open = state.phase === "open" && currentStep(state)?.kind === "plan" && mayActAs(account.role, "technician");
  const asked = await searchParams;
  const { need } = currentStep(state) ?? {};
  const proposals = open && openDecisions(plan, state.decisions) > 0 ? await proposed(job, plan) : {};
  const deciders = Object.fromEntries(
    Object.entries(state.decidedBy).map(([id, by]) => [
      id,
      by.after === undefined ? by.account : `${by.account}, after ${by.after}`,
    ]),
  );
  return (
    <PlanView
      jobId={job.id}
      tag={job.tag}
      backupId={sourceBackupOf(view)}
      parts={planParts(view)}
      boardBackupId={backupOf(view.state) ?? 0}
      plan={plan}
      decisions={state.decisions}
      deciders={deciders}
      open={open}
      proposals={proposals}
      {...(open && need?.kind === "take"
        ? {
            take: {
              asks: need.asks,
              looks: need.looks ?? [],
              say: need.say,
              played: need.twin !== undefined || !carriedBy(job.goal).includes("main"),
            },
          }
        : {})}
      mayReopen={mayReopen(job.steps, state) && state.phase === "open" && mayActAs(account.role, "technician")}
      {...(state.taken ? { takenBy: state.taken.account } : {})}
      scope={scopeOf(job.goal)}
      lines={await linesOfPlan(view, plan)}
      board={await onBoardOfJob(view, plan)}
      q={oneParam(asked.q)}
      area={oneParam(asked.area)}
      mayLead={mayActAs(account.role, "lead")}
    />
  );
}

/** Of a visit whose papers are damaged: what it is, and the way to its card. */
const Rest = async ({ params }: Props) => <VisitHead id={rowId((await params).id)} what="The plan cannot be shown." />;

export default told(PlanPage, Rest);
