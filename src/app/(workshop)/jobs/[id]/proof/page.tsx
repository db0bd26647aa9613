import type { Metadata } from "next";
import { told } from "@/app/told";
import { VisitHead } from "@/app/visit-head";
import { notFound } from "next/navigation";
import { asPlanned, leftByChoice, proofSentence } from "@/core/carryover";
import { resultOf, signerOf } from "@/core/job";
import { ProofTable } from "@/ui/proof/proof-table";
import { BUTTON_LOOK, Empty, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { StateShape } from "@/ui/base/mark";
import { dayTime } from "@/ui/base/time";
import { readJob } from "@/server/web/job-view";
import { proofOfJob } from "@/server/web/proof-view";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export const metadata: Metadata = { title: "Proof" };

async function ProofPage({ params }: Props) {
  await requirePage();
  const view = await readJob(rowId((await params).id));
  if (!view) notFound();
  const { state, job } = view;
  const found = await proofOfJob(view, dayTime);
  if (!found)
    return (
      <Sheet>
        <Empty>The proof comes with the step “Read back and prove”; the job is not there yet.</Empty>
        <p className="px-4 pb-4">
          <LinkButton href={`/jobs/${job.id}`}>Back to the card</LinkButton>
        </p>
      </Sheet>
    );
  const { proof, lines, off } = found;
  const { suspicion, readBackId } = resultOf(state, "prove");
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
        <div className="ml-auto flex flex-wrap gap-2">
          <a className={`${BUTTON_LOOK.plain} no-underline`} href={`/api/jobs/${job.id}/proof?form=csv`} download>
            As CSV
          </a>
          <a className={`${BUTTON_LOOK.plain} no-underline`} href={`/api/jobs/${job.id}/proof?form=json`} download>
            As JSON
          </a>
          <a className={`${BUTTON_LOOK.plain} no-underline`} href={`/api/jobs/${job.id}/papers`} download>
            All papers
          </a>
          <LinkButton href={`/jobs/${job.id}`}>Back to the card</LinkButton>
        </div>
      </div>
      {suspicion !== undefined && (
        <p role="note" className="mb-4 border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
          <StateShape shape="triangle" /> {suspicion}
        </p>
      )}
      {off.length > 0 && (
        <Sheet label="By cause" className="mb-4 px-4 py-3">
          <h2 className="mb-1">What came out otherwise, by cause</h2>
          <ul className="grid gap-2">
            {off.map(({ cause, root, titles, values }) => (
              <li key={`${cause} ${root}`}>
                <b>
                  {cause}: {values}.
                </b>{" "}
                {root}
                <span className="block text-sm text-faded">
                  {titles.slice(0, 12).join(", ")}
                  {titles.length > 12 ? ` and ${titles.length - 12} more` : ""}
                </span>
              </li>
            ))}
          </ul>
        </Sheet>
      )}
      <ProofTable rows={lines} readBackId={readBackId ?? 0} />
    </>
  );
}

/** Of a visit whose papers are damaged: what it is, and the way to its card. */
const Rest = async ({ params }: Props) => <VisitHead id={rowId((await params).id)} what="The proof cannot be shown." />;

export default told(ProofPage, Rest);
