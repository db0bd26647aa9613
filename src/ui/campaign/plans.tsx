"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import {
  callsOf,
  groupsOf,
  TAKEN_BACK,
  type CampaignDecision,
  type MemberPlan,
  type SharedCall,
} from "@/core/campaign/plans";
import type { Problem } from "@/core/problem";
import { send, useAsk } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { Empty, ProblemNote, Sheet } from "@/ui/base/parts";
import { counted } from "@/ui/base/words";
import { Press } from "@/ui/base/press";
import { OneOf } from "@/ui/base/one-of";

type Loaded = { readonly plans: readonly MemberPlan[] } | { readonly problem: Problem };

/** What those whose turn is to come would meet: who goes the same way, and what is decided once for all. */
export function CampaignPlans({
  id,
  waiting,
  isLead,
  decisions,
}: {
  readonly id: number;
  readonly waiting: number;
  readonly isLead: boolean;
  readonly decisions: readonly CampaignDecision[];
}) {
  const [loaded, setLoaded] = useState<Loaded>();
  useEffect(() => {
    let gone = false;
    void send<{ plans: readonly MemberPlan[] }>(`/api/campaigns/${id}/plans`, undefined, "GET").then((answer) => {
      if (!gone) setLoaded(answer.ok ? answer.value : { problem: answer.problem });
    });
    return () => {
      gone = true;
    };
  }, [id]);
  if (!loaded)
    return (
      <p role="status" className="text-sm text-faded">
        Working out what {counted(waiting, "aircraft", "aircraft")} would meet.
      </p>
    );
  if ("problem" in loaded) return <ProblemNote problem={loaded.problem} />;
  return (
    <>
      <Routes plans={loaded.plans} />
      <Calls id={id} calls={callsOf(loaded.plans)} decisions={decisions} isLead={isLead} of={loaded.plans.length} />
    </>
  );
}

const named = (all: readonly string[], most = 6) =>
  `${all.slice(0, most).join(", ")}${all.length > most ? ` and ${all.length - most} more` : ""}`;

/** What a group meets, one thing a line. */
function meets({ calls, silent, behaviour, blocked, lost, unread, changed }: MemberPlan): string[] {
  return [
    calls.length === 0 ? "nothing to decide" : counted(calls.length, "decision"),
    ...(silent.length > 0 ? [`would change without a word: ${named(silent)}`] : []),
    ...(behaviour.length > 0 ? [`same number, other effect: ${named(behaviour)}`] : []),
    ...(blocked.length > 0 ? [`cannot be there: ${named(blocked)}`] : []),
    ...(lost.length > 0 ? [`set by hand and lost: ${named(lost)}`] : []),
    ...(unread.length > 0 ? [`never read out, so nothing is known yet: ${named(unread)}`] : []),
    ...(changed > 0 ? [`${counted(changed, "value")} converted`] : []),
  ];
}

function Routes({ plans }: { readonly plans: readonly MemberPlan[] }) {
  return (
    <Sheet label="Who goes the same way" className="px-4 py-3.5">
      <h2 className="mb-1.5">Who goes the same way</h2>
      <ul className="grid gap-3">
        {groupsOf(plans).map(({ tags, like }) => (
          <li key={tags.join()}>
            <b>{named(tags, 12)}</b>
            {like.problem ? (
              <p className="text-sm">
                <StateShape shape="square" /> {like.problem.message}. {like.problem.hint ?? ""}
              </p>
            ) : (
              <ul className="text-sm">
                {meets(like).map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** Each decision once, with whom it concerns; on each aircraft it is proposed with the name of who took it here. */
function Calls({
  id,
  calls,
  decisions,
  isLead,
  of,
}: {
  readonly id: number;
  readonly calls: readonly SharedCall[];
  readonly decisions: readonly CampaignDecision[];
  readonly isLead: boolean;
  readonly of: number;
}) {
  const { ask, problem } = useAsk();
  // shown as chosen while it is on its way
  const [picked, setPicked] = useState<Readonly<Record<string, string>>>({});
  const taken = new Map(decisions.map((decision) => [decision.key, decision]));
  const left = calls.filter(({ key }) => !taken.has(key)).length;
  // what the server holds by this page's own word, until the page has it as well
  const stood = useRef(new Map<string, string>());
  const router = useRouter();
  const decide = (key: string, choiceId: string) => {
    setPicked((all) => ({ ...all, [key]: choiceId }));
    const before = stood.current.get(key) ?? taken.get(key)?.choiceId ?? "";
    void ask(`/api/campaigns/${id}`, { kind: "decide", decisions: [{ key, choiceId, before }] }).then((done) => {
      if (done !== undefined) return stood.current.set(key, choiceId === TAKEN_BACK ? "" : choiceId);
      stood.current.delete(key);
      setPicked((all) => Object.fromEntries(Object.entries(all).filter(([each]) => each !== key)));
      // somebody else may have been quicker: what stands now is shown
      router.refresh();
      return undefined;
    });
  };
  return (
    <Sheet label="Decided once" className="px-4 py-3.5">
      <h2 className="mb-1">
        {calls.length === 0
          ? "Nothing has to be decided"
          : left === 0
            ? "Everything is decided"
            : isLead
              ? `${counted(left, "decision")} to take for all`
              : `${counted(left, "decision waits", "decisions wait")} for a lead`}
      </h2>
      {calls.length === 0 ? (
        <Empty>Every plan comes out by itself.</Empty>
      ) : (
        <p className="mb-2 text-sm text-faded">
          What is decided here is proposed on each aircraft’s plan, where a person takes it over: a technician too, even
          what only a lead may choose, because a lead chose it here.
          {isLead ? "" : " What no lead has chosen here, each aircraft’s own plan asks."}
        </p>
      )}
      {problem && <ProblemNote problem={problem} />}
      <ul className="grid gap-3">
        {calls.map((call) => {
          const decision = taken.get(call.key);
          return (
            <li key={call.key} className="border-t border-rule pt-2">
              <p>
                <StateShape shape={decision ? "disc" : "ring"} /> <b>{call.title}</b>
                {call.from === undefined ? "" : `, now ${call.from}`}
                <span className="text-sm text-faded">
                  {" "}
                  {call.tags.length === of ? "on all" : named(call.tags)}
                  {decision ? ` · decided by ${decision.account}` : ""}
                </span>
              </p>
              <p className="text-sm text-faded">{call.reason}</p>
              {isLead ? (
                <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
                  <OneOf
                    label={call.title}
                    heard
                    className="flex flex-wrap gap-x-4 gap-y-1"
                    value={picked[call.key] ?? decision?.choiceId}
                    choices={call.choices.map((choice) => ({
                      value: choice.id,
                      title: choice.means,
                      says: (
                        <>
                          {choice.label}{" "}
                          {choice.by === "lead" && <span className="text-sm text-faded">(a lead’s word)</span>}
                        </>
                      ),
                    }))}
                    onValue={(choice) => decide(call.key, choice)}
                  />
                  {/* its room is kept: what is decided above moves nothing from under a hand */}
                  <Press
                    aria-label={`Take back: ${call.title}`}
                    className={decision ? "" : "invisible"}
                    onClick={() => decide(call.key, TAKEN_BACK)}
                  >
                    Take back
                  </Press>
                </div>
              ) : (
                decision && (
                  <p className="mt-1 text-sm">
                    {call.choices.find(({ id: choice }) => choice === decision.choiceId)?.label ?? ""}
                  </p>
                )
              )}
            </li>
          );
        })}
      </ul>
    </Sheet>
  );
}
