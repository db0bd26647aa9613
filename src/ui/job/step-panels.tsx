"use client";

import { useEffect, useState, type ReactNode } from "react";
import type { JobLive } from "@/core/job";
import { StateShape } from "@/ui/base/mark";

/** A small drawing of what the hands do: a board, its socket and the cable. */
function HandsDrawing() {
  return (
    <svg
      viewBox="0 0 120 60"
      className="h-14 w-28 flex-none text-ink"
      aria-hidden="true"
      fill="none"
      stroke="currentColor"
      strokeWidth="2"
    >
      <rect x="62" y="10" width="46" height="40" rx="3" />
      <rect x="56" y="23" width="10" height="14" fill="var(--sheet)" />
      <circle cx="72" cy="18" r="2" />
      <circle cx="98" cy="18" r="2" />
      <circle cx="72" cy="42" r="2" />
      <circle cx="98" cy="42" r="2" />
      <path d="M4 44c14 0 14-14 26-14" />
      <rect x="30" y="24" width="16" height="12" />
      <path d="M46 30h6" strokeDasharray="2 2" />
    </svg>
  );
}

function Countdown({ seconds }: { readonly seconds: number }) {
  const [left, setLeft] = useState(seconds);
  useEffect(() => {
    const timer = setInterval(() => setLeft((old) => Math.max(0, old - 1)), 1000);
    return () => clearInterval(timer);
  }, []);
  return (
    <span role="timer" className="font-head text-2xl font-[640]">
      {left === 0 ? "Now" : left}
    </span>
  );
}

interface HandsPanelProps {
  readonly say: string;
  readonly asks: readonly string[];
  readonly countdownS?: number;
  readonly children?: ReactNode;
}

/** A step for hands: what to do, in order, with a drawing and one big confirmation. */
export function HandsPanel({ say, asks, countdownS, children }: HandsPanelProps) {
  return (
    <div data-asks="" className="mt-2.5 grid gap-3 border border-rule bg-sheet p-3.5">
      <p>{say}</p>
      {asks.length > 0 && (
        <div className="flex items-center gap-5">
          <HandsDrawing />
          <ol className="list-decimal pl-5">
            {asks.map((ask) => (
              <li key={ask}>{ask}</li>
            ))}
          </ol>
          {countdownS !== undefined && <Countdown seconds={countdownS} />}
        </div>
      )}
      {children}
    </div>
  );
}

/** A check: one ask, expected beside seen. */
export function AskPanel({
  ask,
  children,
}: {
  readonly ask: NonNullable<JobLive["ask"]>;
  readonly children?: ReactNode;
}) {
  return (
    <div className="mt-2.5 border border-rule bg-sheet p-3.5">
      <p className="font-head text-lg font-[640]">{ask.say}</p>
      <dl className="mt-2 grid grid-cols-[6rem_1fr] gap-y-1">
        <dt className="text-faded">Expected</dt>
        <dd>{ask.expected}</dd>
        <dt className="text-faded">Seen</dt>
        <dd className="flex items-center gap-2" aria-live="polite">
          <StateShape shape={ask.wrong ? "square" : ask.notProvable ? "dashed" : "half"} />
          <span>
            {ask.seen}
            {ask.wrong && <b className="text-clay"> — not as expected: repeat it</b>}
            {ask.notProvable && <b> — not provable now; it stays open</b>}
          </span>
        </dd>
      </dl>
      {ask.wrong && children}
    </div>
  );
}
