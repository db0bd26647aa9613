import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { asPlanned, leftByChoice, proofSentence, type PlanItem, type Proof } from "@/core/carryover";
import { signerOf, type JobState } from "@/core/job";
import { ProofTable, type ProofRow } from "@/ui/proof/proof-table";
import { Empty, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { StateShape } from "@/ui/base/mark";
import { dayTime } from "@/ui/base/time";
import { getJson } from "@/server/repositories/blobs";
import { planOfJob, readJob, sourceBackupOf } from "@/server/web/job-view";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export const metadata: Metadata = { title: "Proof" };

/** The chain of reasons for one value: the rules on its way, and whose decision it was. */
function reasonsOf(item: PlanItem | undefined, state: JobState): string[] {
  if (!item) return [];
  const rules = item.trail.map(
    (step) =>
      `${step.why.replace(/\.$/, "")}${step.before !== undefined && step.after !== undefined ? `: ${step.before} → ${step.after}` : ""}`,
  );
  const choice = item.choices.find((c) => c.id === state.decisions[item.id]);
  const by = state.decidedBy[item.id];
  return choice && by ? [...rules, `“${choice.label}”, decided by ${by.account} on ${dayTime(by.at)}`] : rules;
}

const shownBefore = (item: PlanItem | undefined) =>
  item?.kind === "setting" ? (item.from?.shown ?? "") : item?.kind === "row" ? (item.from?.key ?? "") : "";

export default async function ProofPage({ params }: Props) {
  await requirePage();
  const view = await readJob(rowId((await params).id));
  if (!view) notFound();
  const { state, job } = view;
  const plan = await planOfJob(view);
  if (state.data.proofSha === undefined || !plan)
    return (
      <Sheet>
        <Empty>The proof comes with the step “Read back and prove”; the job is not there yet.</Empty>
        <p className="px-4 pb-4">
          <LinkButton href={`/jobs/${job.id}`}>Back to the card</LinkButton>
        </p>
      </Sheet>
    );
  const proof = (await getJson(state.data.proofSha)) as Proof;
  const items = new Map(plan.items.map((item) => [item.id, item]));
  const rows = proof.values.map((value): ProofRow => {
    const item = items.get(value.id);
    return {
      id: value.id,
      title: value.title,
      area: value.area,
      result: value.result,
      planned: value.planned ?? "",
      found: value.found ?? "",
      before: shownBefore(item),
      why: reasonsOf(item, state),
      backupLine: item?.from?.line ?? 0,
      backupId: item?.ofBoard ? (state.data.backupId ?? 0) : sourceBackupOf(view),
      sentLine: value.sentLine,
      readLine: value.readLine,
      cause: value.by === undefined ? (value.cause ?? null) : `Left behind by ${value.by}`,
    };
  });
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <Plate tag={job.tag} big />
        <div>
          <h1 className="flex items-center gap-2.5">
            <StateShape shape={asPlanned(proof) && leftByChoice(proof).length === 0 ? "disc" : "triangle"} />
            {proofSentence(proof)}
          </h1>
          <p className="text-faded">
            {job.headline} · visit {job.id}
            {state.signed
              ? ` · signed off by ${signerOf(state.signed)} on ${dayTime(state.signed.at)}`
              : " · not signed off yet"}
          </p>
        </div>
        <div className="ml-auto">
          <LinkButton href={`/jobs/${job.id}`}>Back to the card</LinkButton>
        </div>
      </div>
      {state.data.suspicion !== undefined && (
        <p role="note" className="mb-4 border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
          <StateShape shape="triangle" /> {state.data.suspicion}
        </p>
      )}
      <ProofTable rows={rows} readBackId={state.data.readBackId ?? 0} />
    </>
  );
}
