"use client";

import { useMemo } from "react";
import { countOutcomes, openDecisions, type Outcome, type Plan } from "@/core/carryover/plan";
import type { Proposal } from "@/core/carryover/proposals";
import { SCOPE_SAYS, type Scope } from "@/core/carryover/scope";
import { AskButton } from "@/ui/base/ask";
import { Folded } from "@/ui/base/folded";
import { LongTable } from "@/ui/base/long-table";
import { OUTCOME_SHAPE, StateShape } from "@/ui/base/mark";
import { BUTTON_LOOK, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { AsBefore, Take, type Taking } from "@/ui/plan/taking";
import { useNextOpen } from "@/ui/plan/next-open";
import { UrlSearch } from "@/ui/base/url-search";
import { UrlSelect } from "@/ui/base/url-select";
import { DecideAll, DecideShown } from "@/ui/plan/bulk";
import type { OnBoard } from "@/core/carryover/on-board";
import { counted } from "@/ui/base/words";
import { areasOf, groupPlan, rowId, type PlanGroup } from "@/ui/plan/groups";
import { Row, type RowContext } from "@/ui/plan/plan-row";

interface PlanViewProps extends RowContext {
  readonly tag: string;
  readonly plan: Plan;
  /** What was decided of the same things on other aircraft of the type. */
  readonly proposals: Readonly<Record<string, Proposal>>;
  /** It waits to be taken; with what speaks against that, which only a lead may pass over. */
  readonly take?: Taking;
  readonly takenBy?: string;
  /** It can be laid open again: nothing was sent yet. */
  readonly mayReopen: boolean;
  readonly scope: Scope;
  /** What is looked for, and in which area; both stand in the URL. */
  readonly q: string;
  readonly area: string;
}

const BARS: readonly { readonly outcomes: readonly Outcome[]; readonly tone: string; readonly say: string }[] = [
  { outcomes: ["as-it-was"], tone: "bg-reed", say: "as they were" },
  { outcomes: ["renamed", "converted", "new-default"], tone: "bg-water", say: "renamed, converted or new" },
  { outcomes: ["limited"], tone: "bg-straw", say: "limited" },
  { outcomes: ["cannot-be-here"], tone: "bg-clay", say: "cannot be here" },
  { outcomes: ["your-call"], tone: "bg-heather", say: "your call" },
  { outcomes: ["retired", "left-out", "unknown"], tone: "bg-edge", say: "retired or left out" },
];

/** “23 to 24” within a family, “23 to Other 9” into another. */
const destination = ({ from, to }: Plan) => {
  const family = from.title.slice(0, from.title.lastIndexOf(" ") + 1);
  return to.title.startsWith(family) ? to.title.slice(family.length) : to.title;
};

export function PlanView({
  jobId,
  tag,
  backupId,
  parts,
  boardBackupId,
  plan,
  decisions,
  deciders,
  open,
  mayLead,
  proposals,
  take,
  takenBy,
  mayReopen,
  scope,
  lines,
  board,
  q,
  area,
}: PlanViewProps) {
  const groups = useMemo(() => groupPlan(plan, { q, area }, board), [plan, q, area, board]);
  const areas = useMemo(() => areasOf(plan), [plan]);
  useNextOpen(groups, decisions);
  const waiting = openDecisions(plan, decisions);
  const counts = countOutcomes(plan);
  const title =
    waiting === 0
      ? open
        ? "all decided; take it."
        : takenBy === undefined
          ? "not taken yet."
          : `taken by ${takenBy}.`
      : open
        ? `${waiting} ${waiting === 1 ? "decision" : "decisions"}, then it can be taken.`
        : `${waiting} left undecided.`;
  return (
    <>
      <div className="mb-3.5 flex flex-wrap items-center gap-4">
        <Plate tag={tag} big />
        <div className="min-w-0 flex-1">
          <h1>
            {plan.from.title === plan.to.title ? plan.to.title : `${plan.from.title} to ${destination(plan)}`}: {title}
          </h1>
          {board && (
            <p>
              <b>
                {board.changes === 0
                  ? "Nothing changes on this board"
                  : `${counted(board.changes, "value changes", "values change")} on this board`}
              </b>
              ;{" "}
              {counted(
                Object.keys(board.places).length - board.changes + board.gone.length,
                "stays as it is",
                "stay as they are",
              )}
              .
            </p>
          )}
          <p className="text-faded">
            {plan.items.length} values{board ? ", by where they come from" : ""}:{" "}
            {BARS.map(({ outcomes, say }) => [outcomes.reduce((sum, o) => sum + counts[o], 0), say] as const)
              .filter(([n]) => n > 0)
              .map(([n, say]) => `${n} ${say}`)
              .join(" · ")}
          </p>
          {scope.kind !== "everything" && (
            <p className="text-sm">
              {SCOPE_SAYS[scope.kind]}
              {scope.starter === undefined ? "" : `; starter set ${scope.starter} fills the rest`}.
            </p>
          )}
        </div>
        <div className="ml-auto flex flex-wrap gap-2">
          {mayReopen && (
            <AskButton path={`/api/jobs/${jobId}`} body={{ kind: "reopen" }}>
              Reopen the plan
            </AskButton>
          )}
          <a className={`${BUTTON_LOOK.plain} no-underline`} href={`/api/jobs/${jobId}/plan?form=csv`} download>
            As CSV
          </a>
          <a className={`${BUTTON_LOOK.plain} no-underline`} href={`/api/jobs/${jobId}/plan?form=text`} download>
            As text
          </a>
          <LinkButton href={`/jobs/${jobId}/plan/beside`}>Compare with another plan</LinkButton>
          <LinkButton href={`/jobs/${jobId}`}>Back to the card</LinkButton>
        </div>
      </div>
      <div className="mb-1.5 flex h-3 border border-edge" aria-hidden="true">
        {BARS.map(({ outcomes, tone }) => {
          const n = outcomes.reduce((sum, o) => sum + counts[o], 0);
          return n === 0 ? null : <div key={tone} className={tone} style={{ flex: `${n} 0 6px` }} />;
        })}
      </div>
      {take && <Take take={take} jobId={jobId} mayLead={mayLead} />}
      {open && <AsBefore plan={plan} decisions={decisions} proposals={proposals} jobId={jobId} />}
      <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
        <UrlSearch label="Search the plan" value={q} />
        <UrlSelect name="area" label="Area" value={area} none="all areas" options={areas} />
        {waiting > 0 && open && (
          <span className="text-sm text-faded">
            <kbd className="key">N</kbd> goes to the next open decision
          </span>
        )}
      </div>
      {open && (q !== "" || area !== "") && (
        <DecideShown groups={groups} decisions={decisions} jobId={jobId} mayLead={mayLead} />
      )}
      {groups.length === 0 && <p className="mt-4 text-faded">Nothing of the plan fits.</p>}
      {board && board.gone.length > 0 && q === "" && area === "" && <GoneRows board={board} />}
      {groups.map((group) => (
        <Group
          key={group.id}
          group={group}
          jobId={jobId}
          backupId={backupId}
          parts={parts}
          boardBackupId={boardBackupId}
          decisions={decisions}
          deciders={deciders}
          open={open}
          mayLead={mayLead}
          proposals={proposals}
          lines={lines}
          board={board}
        />
      ))}
    </>
  );
}

/** Rows that the board holds, and that nothing of the plan puts there. */
function GoneRows({ board }: { readonly board: OnBoard }) {
  return (
    <section className="mt-4">
      <h2 className="flex items-center gap-2">
        <StateShape shape="dash" />
        Rows that go from this board
        <span className="font-body text-sm font-normal text-faded">{board.gone.length}</span>
      </h2>
      <ul className="mt-2">
        {board.gone.map((row) => (
          <li key={row.id}>
            {row.title} {row.from?.key ?? row.to?.key}{" "}
            <span className="key text-faded">
              {Object.values(row.to?.cells ?? {})
                .map(String)
                .join(", ")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Group({ group, ...rest }: RowContext & { readonly group: PlanGroup }) {
  const head = (
    <h2 className="flex items-center gap-2">
      <StateShape shape={OUTCOME_SHAPE[group.outcome]} />
      {group.title}
      <span className="font-body text-sm font-normal text-faded">
        {group.rows.reduce((sum, row) => sum + row.items.length, 0)}
      </span>
    </h2>
  );
  const changes = group.id === "changes";
  const ids = useMemo(() => group.rows.map(rowId), [group.rows]);
  const table = (
    <Sheet label={group.title} className="mt-2">
      <LongTable
        label={group.title}
        ids={ids}
        className=""
        tableClass="stacks table-fixed md:min-w-[720px]"
        head={
          <thead className={changes || group.rows.some((row) => row.first.choices.length > 0) ? "" : "sr-only"}>
            <tr>
              <th className="w-[28%]">Setting</th>
              <th className="w-[17%]">{changes ? "Now on it → after the job" : "Value"}</th>
              <th>What it does, and why</th>
              <th className="w-[17rem]">Your call</th>
            </tr>
          </thead>
        }
        row={(index, { key, ...props }) => {
          const row = group.rows[index];
          return row ? <Row key={key} row={row} place={props} {...rest} /> : null;
        }}
      />
    </Sheet>
  );
  return (
    <section className="mt-4" id={group.id}>
      {group.folded ? (
        <Folded className="flex items-center gap-2" head={head} lazy={ids.length > 150}>
          {table}
        </Folded>
      ) : (
        <>
          <div className="flex flex-wrap items-center justify-between gap-2">
            {head}
            {rest.open && group.rows.length > 1 && (
              <DecideAll items={group.rows.flatMap((row) => row.items)} jobId={rest.jobId} mayLead={rest.mayLead} />
            )}
          </div>
          {table}
        </>
      )}
    </section>
  );
}
