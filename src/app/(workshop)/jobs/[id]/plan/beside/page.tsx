import type { Metadata } from "next";
import { told } from "@/app/told";
import { VisitHead } from "@/app/visit-head";
import { notFound } from "next/navigation";
import { oneParam, type SearchParams } from "@/app/params";
import { plansBeside, type PlanDifference } from "@/core/carryover";
import { Table } from "@/ui/base/table";
import { StateShape } from "@/ui/base/mark";
import { Empty, LinkButton, Sheet } from "@/ui/base/parts";
import { UrlSelect } from "@/ui/base/url-select";
import { day } from "@/ui/base/time";
import { counted } from "@/ui/base/words";
import { plansLikeThis } from "@/server/web/earlier-plans";
import { planOfJob, readJob } from "@/server/web/job-view";
import { rowId } from "@/server/web/row-id";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ id: string }>;
  readonly searchParams: SearchParams;
}

export const metadata: Metadata = { title: "Two plans" };

const SHOWN = 400;

/** Two plans of one type beside each other: what the one does otherwise than the other. */
async function BesidePage({ params, searchParams }: Props) {
  await requirePage();
  const view = await readJob(rowId((await params).id));
  const plan = view && (await planOfJob(view));
  if (!view || !plan) notFound();
  const others = await plansLikeThis(view.job);
  const wanted = rowId(oneParam((await searchParams).with));
  const other = others.find(({ id }) => id === wanted) ?? others[0];
  const second = other && (await readJob(other.id));
  const theirs = second && (await planOfJob(second));
  const found =
    second && theirs
      ? plansBeside({ plan, decisions: view.state.decisions }, { plan: theirs, decisions: second.state.decisions })
      : [];
  return (
    <>
      <div className="mb-4 flex flex-wrap items-start justify-between gap-3">
        <div>
          <h1>
            {!other
              ? "There is no other plan to compare it with."
              : found.length === 0
                ? `${view.job.tag} and ${other.tag}: both plans do the same.`
                : `${view.job.tag} and ${other.tag}: ${counted(found.length, "value differs", "values differ")}.`}
          </h1>
          <p className="text-faded">
            {view.job.headline}, visit {view.job.id}
            {other ? `, compared with ${other.headline}, visit ${other.id}` : ""}
          </p>
        </div>
        <LinkButton href={`/jobs/${view.job.id}/plan`}>Back to the plan</LinkButton>
      </div>
      {other && (
        <div className="mb-3">
          <UrlSelect
            name="with"
            label="Compare with"
            value={String(other.id)}
            options={others.map(({ id, tag, headline, at }) => ({
              value: String(id),
              text: `${tag}, ${headline}, ${day(at.getTime())}`,
            }))}
          />
        </div>
      )}
      <Sheet label="What differs" className="overflow-x-auto">
        {found.length === 0 ? (
          <Empty>
            {other ? "Nothing to show." : "Plans of other aircraft of its type stand here, once there are any."}
          </Empty>
        ) : (
          <Differences found={found.slice(0, SHOWN)} left={view.job.tag} right={other?.tag ?? ""} />
        )}
      </Sheet>
      {found.length > SHOWN && <p className="mt-2 text-sm text-faded">And {found.length - SHOWN} more.</p>}
    </>
  );
}

function Differences({
  found,
  left,
  right,
}: {
  readonly found: readonly PlanDifference[];
  readonly left: string;
  readonly right: string;
}) {
  return (
    <Table
      rows={found}
      keyOf={({ id }) => id}
      columns={[
        {
          head: "What",
          cell: ({ id, title, area, flies }) => (
            <>
              {flies && <StateShape shape="triangle" />} {title}{" "}
              <span className="text-sm text-faded">
                {area} · <span className="key">{id}</span>
              </span>
            </>
          ),
        },
        { head: `${left}, this plan`, look: "key", cell: (each) => each.left ?? "no such place" },
        { head: right, look: "key", cell: (each) => each.right ?? "no such place" },
      ]}
    />
  );
}

/** Of a visit whose papers are damaged: what it is, and the way to its card. */
const Rest = async ({ params }: Props) => (
  <VisitHead id={rowId((await params).id)} what="The two plans cannot be shown." />
);

export default told(BesidePage, Rest);
