"use client";

import Link from "next/link";
import { Mark } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { useLive, type LiveBay } from "@/ui/bench/live";

function Tile({ bay: { no, live } }: { readonly bay: LiveBay }) {
  const href = live.job ? `/jobs/${live.job.id}` : `/bench/${no}`;
  const empty = live.mark === "none";
  return (
    <li className="relative min-w-0 border-l border-rule">
      <Link
        href={href}
        className={`block h-full px-3 py-2 text-[13.5px] leading-tight no-underline hover:bg-sheet ${empty ? "text-faded" : "text-ink"}`}
        aria-label={`Bay ${no}: ${live.tag ?? live.boardName ?? live.simLabel ?? ""} ${live.say}`}
      >
        <span className="mb-1 flex min-h-6 items-center gap-2">
          <span className="font-head text-[13px] font-[650] text-faded">{no}</span>
          {live.tag === undefined ? (
            live.simBoardId !== undefined && (
              <b className="truncate">{live.boardName ?? (live.presence === "none" ? "a board" : "unknown board")}</b>
            )
          ) : (
            <Plate tag={live.tag} />
          )}
        </span>
        <span className="flex items-center gap-1.5">
          {live.simBoardId !== undefined && <Mark mark={live.mark} />}
          <span className="truncate" title={live.say}>
            {live.say}
          </span>
        </span>
      </Link>
      {live.job?.doneShare !== undefined && (
        <span
          className="absolute bottom-0 left-0 h-[5px] bg-water transition-[width]"
          style={{ width: `${Math.round(live.job.doneShare * 100)}%` }}
          aria-hidden="true"
        />
      )}
    </li>
  );
}

/** The bench at the foot of every screen: one tile a bay, in words. */
export function Strip({ benchName, clockFactor }: { readonly benchName: string; readonly clockFactor: number }) {
  const { bays, benchUp, connected } = useLive();
  // said aloud when something has to be done; numbers that run are not
  const calls = bays
    .filter(({ live }) => live.mark === "call" || live.mark === "no" || live.mark === "look")
    .map(({ no, live }) => `Bay ${no}: ${live.say}.`);
  const trouble = !connected
    ? "No connection to the server; the bench works on"
    : benchUp
      ? undefined
      : "The bench is not running";
  return (
    <nav
      aria-label="Bench"
      className="no-print fixed inset-x-0 bottom-0 z-10 border-t-[1.5px] border-ink bg-bench max-md:static"
    >
      <p className="sr-only" role="status">
        {calls.join(" ")}
      </p>
      {trouble !== undefined && <p className="bg-clay px-6 py-1 text-sm font-semibold text-sheet">{trouble}.</p>}
      <div className="grid min-h-[78px] grid-cols-[92px_1fr] max-md:grid-cols-1">
        <div className="py-2.5 pl-6 text-[13px] leading-tight">
          <b>Bench</b>
          <br />
          {benchName}
          {clockFactor !== 1 && (
            <>
              <br />
              <span className="text-faded" title="Simulated boards run this many times as fast as real ones">
                time ×{clockFactor}
              </span>
            </>
          )}
        </div>
        <ul className="grid grid-cols-6 max-md:grid-cols-2">
          {bays.map((bay) => (
            <Tile key={bay.no} bay={bay} />
          ))}
        </ul>
      </div>
    </nav>
  );
}
