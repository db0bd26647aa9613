"use client";

import { Link } from "@/ui/base/link";
import { useEffect, useRef } from "react";
import type { StepState } from "@/core/job";
import { AskButton } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { LinkButton, Plate, ProblemNote, Sheet } from "@/ui/base/parts";
import { clockTime, timeLeft } from "@/ui/base/time";
import { useNarrow } from "@/ui/base/use-narrow";
import { useNext } from "@/ui/base/use-next";
import { useBay } from "@/ui/bench/live";
import { Airframe } from "@/ui/bench/hands";
import { AgainstPanel } from "@/ui/job/against-panel";
import { FlashMap } from "@/ui/job/flash-map";
import { PartGrid, stretchesOf, type Stretch } from "@/ui/job/part-grid";
import type { CardStep } from "@/ui/job/card-step";
import { StopJob } from "@/ui/job/stop-job";
import { AskPanel, HandsPanel } from "@/ui/job/step-panels";
import { Folded } from "@/ui/base/folded";

export interface Card {
  readonly id: number;
  readonly tag: string;
  readonly headline: string;
  readonly bayNo: number;
  readonly orderedBy: string;
  readonly phase: "open" | "finished" | "stopped";
  readonly begun: boolean;
  readonly steps: readonly CardStep[];
  /** The step that it stands at, from 0; all done: none. */
  readonly at: number | null;
  /** The parts behind the board by where they are. */
  readonly places: Readonly<Record<string, string>>;
  /** Steps that were not planned when the job was ordered. */
  readonly cameIn: readonly string[];
  /** Steps that were planned and are not needed any more, with why. */
  readonly struck: readonly { readonly title: string; readonly because: string }[];
  readonly backupId: number | null;
  readonly stopReason: string | null;
  /** What is left on the board when it is stopped now; nothing was written where it is undefined. */
  readonly left: string | undefined;
}

function FoldedStep({ no, step }: { readonly no: number; readonly step: CardStep }) {
  const { state } = step;
  return (
    <li className="border-b border-rule last:border-0" id={`step-${no}`}>
      <Folded
        unmarked
        headClass="py-2 pr-3.5 hover:bg-paper"
        head={
          <span className="grid grid-cols-[44px_1fr_auto] items-baseline">
            <span className="pr-3.5 text-right font-head text-[17px] font-[640] text-faded">{no}</span>
            <span className="min-w-0 truncate group-data-[state=open]/fold:whitespace-normal max-sm:whitespace-normal">
              <b>{step.title}</b> <span className="text-sm text-faded">{state.evidence}</span>
            </span>
            <span className="pl-3 text-sm font-semibold whitespace-nowrap text-reed">
              <StateShape shape="disc" /> Done{" "}
              <span className="key font-normal text-faded">{clockTime(state.endedAt ?? 0)}</span>
            </span>
          </span>
        }
      >
        <div className="pb-3 pl-11 text-sm">
          <p className="text-faded">{step.why}</p>
          <Notes state={state} />
        </div>
      </Folded>
    </li>
  );
}

function Notes({ state }: { readonly state: StepState }) {
  if (state.notes.length === 0) return null;
  return (
    <ul className="mt-1 grid gap-0.5">
      {state.notes.map((note) => (
        <li key={`${note.at} ${note.text}`}>
          <span className="key text-faded">{clockTime(note.at)}</span> {note.text}
        </li>
      ))}
    </ul>
  );
}

function CurrentStep({
  card,
  no,
  step,
  mayWork,
}: {
  readonly card: Card;
  readonly no: number;
  readonly step: CardStep;
  readonly mayWork: boolean;
}) {
  const live = useBay(card.bayNo);
  const job = live?.job?.id === card.id ? live.job : undefined;
  const { state } = step;
  const place = useRef<HTMLLIElement>(null);
  // the card goes along with the work: the step that is on, or asks something, stands in sight
  useEffect(() => {
    place.current?.scrollIntoView({ block: "center" });
  }, [state.id, state.status]);
  const path = `/api/jobs/${card.id}` as const;
  const tone =
    state.status === "failed"
      ? "border-clay bg-clay-wash"
      : state.status === "waiting"
        ? "border-heather bg-heather-wash"
        : "border-water bg-water-wash";
  return (
    <li ref={place} className={`-ml-1 border-b border-l-4 border-b-rule ${tone}`} id={`step-${no}`} aria-current="step">
      <div className="grid grid-cols-[44px_1fr_150px] py-3 max-sm:grid-cols-[36px_1fr]">
        <span className="pr-3.5 text-right font-head text-[17px] font-[640]">{no}</span>
        <div className="min-w-0">
          <p>
            <b>{step.title}</b>
          </p>
          <p className="text-sm">{step.why}</p>
          <Notes state={state} />
          {job?.map && <FlashMap map={job.map} />}
          {state.status === "failed" && state.problem && (
            <div className="mt-2 grid gap-2">
              <ProblemNote problem={state.problem} />
              {mayWork && (
                <AskButton path={path} body={{ kind: "again", step: state.id }} look="main">
                  Begin the step again
                </AskButton>
              )}
            </div>
          )}
          {(state.need?.kind === "decisions" || state.need?.kind === "take") && (
            <div data-asks="" className="mt-2 flex flex-wrap items-center gap-3">
              <span>{state.need.say}</span>
              <LinkButton href={`/jobs/${card.id}/plan`} look="call">
                {state.need.kind === "take" ? "Look at the plan and take it" : "Look at the plan and decide"}
              </LinkButton>
            </div>
          )}
          {state.need?.kind === "confirm" && (
            <HandsPanel say={state.need.say} asks={state.need.asks}>
              {mayWork && (
                <AskButton path={path} body={{ kind: "confirm", step: state.id }} look="main">
                  {state.need.word ?? "It is done"}
                </AskButton>
              )}
            </HandsPanel>
          )}
          {state.need?.kind === "against" && (
            <AgainstPanel need={state.need} step={state.id} path={path} bayNo={card.bayNo} mayWork={mayWork} />
          )}
          {state.need?.kind === "board" && (
            <HandsPanel
              say={state.need.say}
              asks={state.need.asks}
              {...(state.need.countdownS === undefined ? {} : { countdownS: state.need.countdownS })}
            />
          )}
          {state.need?.kind === "sign" && (
            <HandsPanel say={state.need.say} asks={[]}>
              <p className="text-sm">
                <Link href={`/jobs/${card.id}/proof`}>Read the proof first</Link>
              </p>
              {mayWork && (
                <AskButton path={path} body={{ kind: "sign" }} look="main">
                  Sign off {card.tag} with my name
                </AskButton>
              )}
            </HandsPanel>
          )}
          {state.need?.kind === "check" && (
            <HandsPanel say={state.need.say} asks={[]}>
              {mayWork && (
                <div className="flex flex-wrap gap-2">
                  {state.need.correction && (
                    <AskButton path={path} body={{ kind: "correct", step: state.id }} look="main">
                      Set {state.need.correction.label}, write and check again
                    </AskButton>
                  )}
                  <AskButton path={path} body={{ kind: "again", step: state.id }}>
                    Begin the check again
                  </AskButton>
                  <AskButton
                    path={path}
                    body={{ kind: "stop", reason: `${step.title} failed. ${state.need.say}`.slice(0, 400) }}
                    look="loss"
                  >
                    Record it as failed: {card.tag} stays out of service
                  </AskButton>
                </div>
              )}
            </HandsPanel>
          )}
          {job?.ask && (
            <AskPanel ask={job.ask}>
              {mayWork && step.checks && (
                <p className="mt-3 flex flex-wrap items-center gap-3">
                  <AskButton path={path} body={{ kind: "as-asked", step: state.id }}>
                    I moved it as asked
                  </AskButton>
                  <span className="text-sm text-faded">Hold it as it is; then the check says what this means.</span>
                </p>
              )}
            </AskPanel>
          )}
          {(job?.ask ?? (state.id === "calibrate" && state.need)) && mayWork && live && (
            <Folded className="mt-3" opened headClass="text-sm" head="Your hands on the simulated airframe">
              <div className="mt-2">
                <Airframe no={card.bayNo} live={live} />
              </div>
            </Folded>
          )}
        </div>
        <div className="pr-3.5 text-right text-sm font-semibold text-water max-sm:col-start-2 max-sm:text-left">
          {job?.doneShare !== undefined && state.status === "running" && (
            <>
              <span>{Math.floor(job.doneShare * 100)} %</span>
              {job.leftMs !== undefined && <span className="block font-normal">{timeLeft(job.leftMs)}</span>}
            </>
          )}
          {state.status === "waiting" && <span className="text-heather">Waits for you</span>}
          {state.status === "failed" && <span className="text-clay">Stopped here</span>}
          {state.status === "running" && job && (
            <span className="block font-normal text-faded">{job.ask ? "" : job.say.split(",")[0]}</span>
          )}
        </div>
      </div>
      {job?.doneShare !== undefined && state.status === "running" && (
        <div
          role="progressbar"
          aria-label={step.title}
          aria-valuenow={Math.floor(job.doneShare * 100)}
          aria-valuemin={0}
          aria-valuemax={100}
          className="h-1.5 bg-sheet"
        >
          <div className="h-full bg-water transition-[width]" style={{ width: `${job.doneShare * 100}%` }} />
        </div>
      )}
    </li>
  );
}

/** What waits for hands on a card: the first press or link of the step that is on, or what begins the job. */
const nextOnCard = () => {
  const step = document.querySelector<HTMLElement>('main [aria-current="step"]');
  const place =
    step?.querySelector<HTMLElement>("[data-asks] :is(button:enabled, a[href])") ??
    step?.querySelector<HTMLElement>(":is(button:enabled, a[href], summary)") ??
    document.querySelector<HTMLElement>("main [data-begins] button:enabled");
  return Promise.resolve(place ?? undefined);
};

/** The steps of a visit, down the page like a paper card. */
export function JobSteps({ card, mayWork }: { readonly card: Card; readonly mayWork: boolean }) {
  useNext(nextOnCard);
  const narrow = useNarrow();
  const current = card.phase === "open" && card.begun ? (card.at ?? -1) : -1;
  const all = stretchesOf(card.steps);
  const isOn = (each: Stretch) =>
    each.kind === "step" ? each.at === current : each.from <= current && current <= each.to;
  const on = all.findIndex(isOn);
  // on a telephone the step that is on comes first, then what is to come
  const order = narrow && on > 0 ? [...all.slice(on), ...all.slice(0, on)] : all;
  return (
    <Sheet label="Steps">
      <ol>
        {order.map((each) => {
          if (each.kind === "parts") {
            const step = isOn(each) ? card.steps[current] : undefined;
            return (
              <li key={`parts ${each.from}`} className="border-b border-rule py-2 last:border-0">
                <div className="grid grid-cols-[44px_1fr]">
                  <span className="pt-2.5 pr-3.5 text-right font-head text-[17px] font-[640] text-faded">
                    {each.from + 1}
                  </span>
                  <div className="min-w-0 overflow-x-auto">
                    <PartGrid steps={card.steps.slice(each.from, each.to + 1)} places={card.places} />
                  </div>
                </div>
                {step && (
                  <ol>
                    <CurrentStep key={step.state.id} card={card} no={current + 1} step={step} mayWork={mayWork} />
                  </ol>
                )}
              </li>
            );
          }
          const i = each.at;
          const step = card.steps[i];
          if (!step) return null;
          if (step.state.status === "done") return <FoldedStep key={step.state.id} no={i + 1} step={step} />;
          if (i === current)
            return <CurrentStep key={step.state.id} card={card} no={i + 1} step={step} mayWork={mayWork} />;
          return (
            <li
              key={step.state.id}
              id={`step-${i + 1}`}
              className="grid grid-cols-[44px_1fr] border-b border-rule py-2 text-faded last:border-0"
            >
              <span className="pr-3.5 text-right font-head text-[17px] font-[640]">{i + 1}</span>
              <span>
                {step.title}
                {!card.begun && <span className="block text-sm">{step.why}</span>}
              </span>
            </li>
          );
        })}
      </ol>
      {card.struck.length + card.cameIn.length > 0 && (
        <div className="border-t border-rule px-3.5 py-2 text-sm text-faded">
          <h2 className="text-sm font-semibold">The steps changed</h2>
          <ul>
            {card.struck.map(({ title, because }) => (
              <li key={`${title} ${because}`}>
                Dropped: <s>{title}</s> ({because})
              </li>
            ))}
            {card.cameIn.map((title) => (
              <li key={title}>Added: {title}</li>
            ))}
          </ul>
        </div>
      )}
    </Sheet>
  );
}

function titleOf(card: Card): string {
  if (card.phase === "finished") return `${card.headline}: signed off.`;
  if (card.phase === "stopped") return `${card.headline}: stopped.`;
  return card.headline;
}

export function CardHead({ card, mayWork }: { readonly card: Card; readonly mayWork: boolean }) {
  const at = (card.at ?? -1) + 1;
  return (
    <div className="mb-4 flex flex-wrap items-center gap-4">
      <Link href={`/aircraft/${card.tag}`} className="no-underline">
        <Plate tag={card.tag} big />
      </Link>
      <div>
        <h1>{titleOf(card)}</h1>
        <p className="text-faded">
          Visit {card.id} · ordered by {card.orderedBy} · bay {card.bayNo}
          {card.phase === "open" && card.begun ? ` · step ${at} of ${card.steps.length}` : ""}
        </p>
      </div>
      <div className="no-print ml-auto flex items-start gap-2">
        {card.phase === "open" && mayWork && <StopJob jobId={card.id} tag={card.tag} left={card.left} />}
        {card.phase === "open" && !card.begun && mayWork && (
          <span data-begins="">
            <AskButton path={`/api/jobs/${card.id}`} body={{ kind: "begin" }} look="main">
              Begin with step 1
            </AskButton>
          </span>
        )}
        {card.phase === "finished" && (
          <LinkButton href={`/jobs/${card.id}/proof`} look="main">
            See the proof
          </LinkButton>
        )}
      </div>
    </div>
  );
}
