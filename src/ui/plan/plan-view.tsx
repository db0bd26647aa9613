"use client";

import { useMemo } from "react";
import {
  countOutcomes,
  openDecisions,
  type Choice,
  type Outcome,
  type Plan,
  type PlanItem,
} from "@/core/carryover/plan";
import type { Proposal } from "@/core/carryover/proposals";
import { SCOPE_SAYS, type Scope } from "@/core/carryover/scope";
import { AskButton, useAsk } from "@/ui/base/ask";
import { OUTCOME_SHAPE, StateShape } from "@/ui/base/mark";
import { BUTTON_LOOK, LinkButton, Plate, ProblemNote, Sheet } from "@/ui/base/parts";
import { AsBefore, Take, type Taking } from "@/ui/plan/taking";
import { useNextOpen } from "@/ui/plan/next-open";
import { UrlSearch } from "@/ui/base/url-search";
import { UrlSelect } from "@/ui/base/url-select";
import { areasOf, groupPlan, keyText, takenChoice, type PlanGroup, type PlanRow } from "@/ui/plan/groups";

interface PlanViewProps {
  readonly jobId: number;
  readonly tag: string;
  readonly backupId: number;
  /** The read-out that the job took of the board, where values come from there as well. */
  readonly boardBackupId: number;
  readonly plan: Plan;
  readonly decisions: Readonly<Record<string, string>>;
  readonly deciders: Readonly<Record<string, string>>;
  /** Decisions can be taken now. */
  readonly open: boolean;
  /** Whoever looks may decide what only a lead may. */
  readonly mayLead: boolean;
  /** What was decided of the same things on other aircraft of the type. */
  readonly proposals: Readonly<Record<string, Proposal>>;
  /** It waits to be taken; with what speaks against that, which only a lead may pass over. */
  readonly take?: Taking;
  readonly takenBy?: string;
  /** It can be laid open again: nothing was sent yet. */
  readonly mayReopen: boolean;
  readonly scope: Scope;
  /** The line that each item sends, as far as it is decided. */
  readonly lines: Readonly<Record<string, string>>;
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
  q,
  area,
}: PlanViewProps) {
  const groups = useMemo(() => groupPlan(plan, { q, area }), [plan, q, area]);
  const areas = useMemo(() => areasOf(plan), [plan]);
  useNextOpen();
  const waiting = openDecisions(plan, decisions);
  const counts = countOutcomes(plan);
  const title =
    waiting === 0
      ? open
        ? "all decided; it waits to be taken."
        : takenBy === undefined
          ? "the plan that was taken."
          : `taken by ${takenBy}.`
      : `${waiting} ${waiting === 1 ? "decision" : "decisions"}, then it can be taken.`;
  return (
    <>
      <div className="mb-3.5 flex flex-wrap items-center gap-4">
        <Plate tag={tag} big />
        <div className="min-w-0 flex-1">
          <h1>
            {plan.from.title} to {destination(plan)}: {title}
          </h1>
          <p className="text-faded">
            {plan.items.length} values:{" "}
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
              Lay it open again
            </AskButton>
          )}
          <LinkButton href={`/jobs/${jobId}/plan/beside`}>Beside another</LinkButton>
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
      {groups.length === 0 && <p className="mt-4 text-faded">Nothing of the plan fits.</p>}
      {groups.map((group) => (
        <Group
          key={group.id}
          group={group}
          jobId={jobId}
          backupId={backupId}
          boardBackupId={boardBackupId}
          decisions={decisions}
          deciders={deciders}
          open={open}
          mayLead={mayLead}
          lines={lines}
        />
      ))}
    </>
  );
}

type GroupProps = { readonly group: PlanGroup } & Pick<
  PlanViewProps,
  "jobId" | "backupId" | "boardBackupId" | "decisions" | "deciders" | "open" | "mayLead" | "lines"
>;

function Group({ group, ...rest }: GroupProps) {
  const sharedIds = (group.rows[0]?.first.choices ?? [])
    .map((c) => c.id)
    .filter((id) => group.rows.every((row) => row.first.choices.some((c) => c.id === id)));
  const head = (
    <h2 className="flex items-center gap-2">
      <StateShape shape={OUTCOME_SHAPE[group.outcome]} />
      {group.title}
      <span className="font-body text-sm font-normal text-faded">
        {group.rows.reduce((sum, row) => sum + row.items.length, 0)}
      </span>
    </h2>
  );
  const table = (
    <Sheet label={group.title} className="mt-2 overflow-x-auto">
      <table className="min-w-[720px] table-fixed">
        <thead className={group.rows.some((row) => row.first.choices.length > 0) ? "" : "sr-only"}>
          <tr>
            <th className="w-[28%]">Setting</th>
            <th className="w-[17%]">Value</th>
            <th>What it does, and why</th>
            <th className="w-[17rem]">Your call</th>
          </tr>
        </thead>
        <tbody>
          {group.rows.map((row) => (
            <Row key={row.key} row={row} {...rest} />
          ))}
        </tbody>
      </table>
    </Sheet>
  );
  return (
    <section className="mt-4" id={group.id}>
      {group.folded ? (
        <details>
          <summary className="flex items-center gap-2">{head}</summary>
          {table}
        </details>
      ) : (
        <>
          <div className="flex flex-wrap items-center justify-between gap-2">
            {head}
            {rest.open && group.rows.length > 1 && sharedIds.length > 0 && (
              <DecideAll group={group} ids={sharedIds} jobId={rest.jobId} />
            )}
          </div>
          {table}
        </>
      )}
    </section>
  );
}

const ALL: Readonly<Record<string, string>> = {
  keep: "Keep all the old numbers",
  "take-default": "Take all the new defaults",
  accept: "All right with all",
  "leave-out": "Leave all out",
  send: "Send all as they are",
};

function DecideAll({
  group,
  ids,
  jobId,
}: {
  readonly group: PlanGroup;
  readonly ids: readonly string[];
  readonly jobId: number;
}) {
  const items = group.rows.flatMap((row) => row.items);
  return (
    <div className="flex gap-1.5">
      {ids
        .filter((id) => ALL[id] !== undefined)
        .map((id) => (
          <AskButton
            key={id}
            path={`/api/jobs/${jobId}`}
            body={{ kind: "decide", choices: Object.fromEntries(items.map((item) => [item.id, id])) }}
          >
            {ALL[id]}
          </AskButton>
        ))}
    </div>
  );
}

function Values({ item }: { readonly item: PlanItem }) {
  if (item.kind === "line") return <code className="key wrap-anywhere">{item.from.text}</code>;
  if (item.kind === "row")
    return (
      <span className="key text-[13.5px]">
        {Object.values(item.from?.cells ?? {})
          .map((cell) => (Array.isArray(cell) ? cell.join(", ") : String(cell)))
          .join(", ")}
      </span>
    );
  const [from, to] = [item.from?.shown, item.to?.shown];
  // a silent change: what it flies on now, and what the new release would make of it
  const moved = item.call === "silent" ? item.choices.find((c) => c.id === "take-default")?.shown : undefined;
  const next = moved ?? to;
  return (
    <span className="key text-[13.5px]">
      {from}
      {next !== undefined && from !== undefined && from !== next && (
        <span className="px-1.5 text-faded">{moved === undefined ? "→" : "or"}</span>
      )}
      {next !== from && next}
      {from !== undefined && from === next && item.call === "behaviour" && (
        <span className="text-faded"> stays {next}</span>
      )}
    </span>
  );
}

type RowProps = { readonly row: PlanRow } & Pick<
  PlanViewProps,
  "jobId" | "backupId" | "boardBackupId" | "decisions" | "deciders" | "open" | "mayLead" | "lines"
>;

function Row({ row, jobId, backupId, boardBackupId, decisions, deciders, open, mayLead, lines }: RowProps) {
  const { first } = row;
  const line = first.from?.line ?? 0;
  // where the meaning changed or the value was limited, that is what has to be read; else what the setting does
  const asksWhy =
    first.outcome === "limited" || (first.kind === "setting" && first.call !== undefined && first.call !== "silent");
  const told = first.kind === "line" || !asksWhy ? undefined : first.reason;
  const shownAbove = first.kind === "row" ? first.reason : told;
  const rules = first.trail.filter((step) => step.why !== shownAbove && step.rule !== "new");
  return (
    <tr id={encodeURIComponent(first.id)}>
      <td className="w-[28%]">
        {first.kind === "row" ? `${first.title} ${first.from?.key ?? ""}` : first.title}
        <span className="block key wrap-anywhere text-faded">
          {first.kind === "setting"
            ? keyText(first)
            : first.kind === "row"
              ? `table ${first.table}`
              : `line ${first.from.line}`}
          {row.places !== "" && ` · ${row.places}`}
        </span>
      </td>
      <td className="w-[17%]">
        <Values item={first} />
        {lines[first.id] !== undefined && (
          <code className="block key text-[12.5px] wrap-anywhere text-faded" title="The line that is sent">
            {lines[first.id]}
          </code>
        )}
      </td>
      <td>
        {first.kind === "setting" && (told ?? first.says)}
        {first.kind === "line" && `${first.reason}.`}
        {first.kind === "row" && first.reason}
        {first.kind === "row" && first.servedBy !== undefined && (
          <span className="block">
            {first.servedBy.length === 0
              ? "No release in the workshop takes it as it is wired."
              : `As it is wired it works on ${first.servedBy.slice(0, 3).join(", ")}: to take one of these, stop this job and order that.`}
          </span>
        )}
        {first.kind === "setting" && first.restricts !== undefined && <b className="block">{first.restricts}.</b>}
        {rules.length > 0 && (
          <details className="text-sm text-faded">
            <summary className="min-h-6 leading-6 text-water">
              {rules.length} {rules.length === 1 ? "rule" : "rules"}
            </summary>
            <ol className="grid gap-0.5">
              {rules.map((step, i) => (
                <li key={i}>
                  {step.why.replace(/\.$/, "")}
                  {step.before !== undefined && step.after !== undefined ? `: ${step.before} → ${step.after}` : ""}.
                </li>
              ))}
            </ol>
          </details>
        )}
        {line > 0 && (
          <a
            className="block min-h-6 text-sm leading-6"
            href={`/backups/${first.ofBoard ? boardBackupId : backupId}#line-${line}`}
          >
            line {line} of the backup
          </a>
        )}
      </td>
      <td className="w-[17rem]">
        {first.choices.length > 0 && (
          <Choices row={row} jobId={jobId} decisions={decisions} deciders={deciders} open={open} mayLead={mayLead} />
        )}
      </td>
    </tr>
  );
}

function Choices({
  row,
  jobId,
  decisions,
  deciders,
  open,
  mayLead,
}: Omit<RowProps, "backupId" | "boardBackupId" | "lines">) {
  const { ask, busy, problem } = useAsk();
  const taken = takenChoice(row, decisions);
  const decide = (choice: Choice) =>
    void ask(`/api/jobs/${jobId}`, {
      kind: "decide",
      choices: Object.fromEntries(row.items.map((item) => [item.id, choice.id])),
    });
  const who = deciders[row.first.id];
  return (
    <div>
      <div className="flex flex-wrap gap-1.5" role="group" aria-label={row.first.title}>
        {row.first.choices.map((choice) => (
          <button
            key={choice.id}
            type="button"
            disabled={busy || !open || (choice.by === "lead" && !mayLead)}
            aria-pressed={taken?.id === choice.id}
            className={`${taken?.id === choice.id ? BUTTON_LOOK.taken : BUTTON_LOOK.call} disabled:cursor-default ${choice.by === "lead" && !mayLead ? "opacity-50" : ""}`}
            onClick={() => decide(choice)}
          >
            {choice.label}
          </button>
        ))}
      </div>
      {row.first.choices
        .filter((choice) => choice.means !== undefined && (taken === undefined || taken === choice))
        .map((choice) => (
          <span key={choice.id} className="block text-[13px] text-faded">
            <b>{choice.label}:</b> {choice.means}
            {choice.by === "lead" && !mayLead && " Only a lead may decide this."}
          </span>
        ))}
      {taken && who !== undefined && <span className="text-[13px] text-faded">decided by {who}</span>}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}
