"use client";

import { openItems, type PlanItem } from "@/core/carryover/plan";
import { AskButton } from "@/ui/base/ask";
import type { PlanGroup, PlanRow } from "@/ui/plan/groups";

const ALL: Readonly<Record<string, string>> = {
  keep: "Keep all the old numbers",
  "take-default": "Take all the new defaults",
  accept: "Accept all limits",
  "leave-out": "Leave all out",
  send: "Send all as they are",
};

interface BulkProps {
  readonly items: readonly PlanItem[];
  readonly jobId: number;
  readonly mayLead: boolean;
}

/** The ways that all of them offer, each as one click. */
export function DecideAll({ items, jobId, mayLead }: BulkProps) {
  const [first, ...others] = items;
  const ways = (first?.choices ?? []).filter(
    ({ id, by }) =>
      ALL[id] !== undefined &&
      (by !== "lead" || mayLead) &&
      others.every(({ choices }) => choices.some((choice) => choice.id === id && (choice.by !== "lead" || mayLead))),
  );
  if (others.length === 0 || ways.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-1.5">
      {ways.map(({ id }) => (
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

/** Of what a search or an area leaves of the plan, whatever is open and can be settled alike, whatever kind it is of. */
export function DecideShown({
  groups,
  decisions,
  jobId,
  mayLead,
}: Omit<BulkProps, "items"> & {
  readonly groups: readonly PlanGroup[];
  readonly decisions: Readonly<Record<string, string>>;
}) {
  const rows = groups.flatMap((group) => group.rows);
  const open = openItems({ items: rows.flatMap(({ items }) => items) }, decisions);
  const ids = new Set(open.map(({ id }) => id));
  const waits = (row: PlanRow) => ids.has(row.first.id);
  const shown = rows.filter(waits).length;
  // what waits in one group only is decided with that group
  if (groups.filter((group) => group.rows.some(waits)).length < 2) return null;
  return (
    <section
      aria-label="Decide what is shown"
      className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border border-heather px-3.5 py-2"
    >
      <p className="min-w-0 flex-1">{shown} of what is shown wait for a decision.</p>
      <DecideAll items={open} jobId={jobId} mayLead={mayLead} />
    </section>
  );
}
