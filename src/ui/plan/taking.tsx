"use client";

import { alikeKey, openItems, type Plan } from "@/core/carryover/plan";
import type { Proposal } from "@/core/carryover/proposals";
import { AskButton } from "@/ui/base/ask";

/** What is to be known before the plan is taken. */
export interface Taking {
  readonly say: string;
  readonly asks: readonly string[];
  readonly looks: readonly string[];
  /** A twin of the board played it to its end. */
  readonly played: boolean;
}

/** The plan is taken by a person's word, not by the last decision. */
export function Take({
  take: { say, asks, looks, played },
  jobId,
  mayLead,
}: {
  readonly take: Taking;
  readonly jobId: number;
  readonly mayLead: boolean;
}) {
  const held = asks.length > 0 && !mayLead;
  return (
    <section
      aria-label="Take the plan"
      className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border border-heather bg-heather-wash px-3.5 py-2.5"
    >
      <div className="min-w-0 flex-1">
        <p className="text-sm">{say}</p>
        {looks.length > 0 && (
          <ul className="my-1 grid gap-0.5 border-l-4 border-straw pl-2.5">
            {looks.map((look) => (
              <li key={look}>{look}</li>
            ))}
          </ul>
        )}
        {asks.map((ask) => (
          <p key={ask}>
            <b>{ask}</b>
          </p>
        ))}
        <p className="text-sm text-faded">
          {held
            ? "Only a lead may take this plan."
            : "Nothing is sent or erased before it is taken. Until the first line is sent it can be reopened."}
        </p>
      </div>
      {!held && (
        <AskButton path={`/api/jobs/${jobId}`} body={{ kind: "take" }} look="main">
          {!played
            ? "I have looked: take it without its twin"
            : looks.length > 0
              ? "I have looked: take this plan"
              : "Take this plan"}
        </AskButton>
      )}
      {!played && (
        <AskButton path={`/api/jobs/${jobId}`} body={{ kind: "again", step: "plan" }}>
          Play it on a twin again
        </AskButton>
      )}
    </section>
  );
}

const day = (at: number) => new Date(at).toISOString().slice(0, 10);

/** What stands open here and was decided on other aircraft of the type: taken over in one go, each with who decided it. */
export function AsBefore({
  plan,
  decisions,
  proposals,
  jobId,
}: {
  readonly plan: Plan;
  readonly decisions: Readonly<Record<string, string>>;
  readonly proposals: Readonly<Record<string, Proposal>>;
  readonly jobId: number;
}) {
  const waiting = openItems(plan, decisions).filter(({ id }) => proposals[id] !== undefined);
  const rows = new Set(waiting.map(alikeKey)).size;
  if (rows === 0) return null;
  const by = new Map(
    waiting.flatMap(({ id }) => {
      const found = proposals[id];
      return found ? [[`${found.tag} by ${found.account} on ${day(found.at)}`, found] as const] : [];
    }),
  );
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border border-water bg-water-wash px-3.5 py-2.5">
      <p className="min-w-0 flex-1">
        {rows} of these {rows === 1 ? "was" : "were"} decided before: {[...by.keys()].join("; ")}.
      </p>
      <AskButton
        path={`/api/jobs/${jobId}`}
        body={{
          kind: "decide",
          choices: Object.fromEntries(waiting.map(({ id }) => [id, proposals[id]?.choiceId ?? ""])),
        }}
      >
        Decide the same way
      </AskButton>
    </div>
  );
}
