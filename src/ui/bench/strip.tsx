"use client";

import { Link } from "@/ui/base/link";
import { usePathname } from "next/navigation";
import { useEffect, useSyncExternalStore } from "react";
import type { BayLive } from "@/core/job/live";
import { Mark } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import type { Bay } from "@/contracts/answers/live";
import { useLive } from "@/ui/bench/live";
import { Select } from "@/ui/base/select";

function Tile({ bay: { no, live } }: { readonly bay: Bay }) {
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

interface StripBench {
  readonly id: number;
  readonly name: string;
  readonly clockFactor: number;
}

const KEPT = "fresh-start.bench";

function remember(benchId: number): void {
  window.localStorage.setItem(KEPT, String(benchId));
  // other tabs are told by the browser, this one is not
  window.dispatchEvent(new StorageEvent("storage", { key: KEPT }));
}

function onRemembered(changed: () => void): () => void {
  window.addEventListener("storage", changed);
  return () => window.removeEventListener("storage", changed);
}

/** The bench that this browser looked at last: by one of its bays, or by choosing it in the strip. */
function useRemembered(bays: readonly Bay[]): number {
  const no = Number(/^\/bench\/(\d+)$/.exec(usePathname())?.[1] ?? NaN);
  const here = bays.find((bay) => bay.no === no)?.benchId;
  useEffect(() => {
    if (here !== undefined) remember(here);
  }, [here]);
  return Number(
    useSyncExternalStore(
      onRemembered,
      () => window.localStorage.getItem(KEPT),
      () => null,
    ),
  );
}

const CALLS: readonly BayLive["mark"][] = ["call", "no", "look"];

/** The bench at the foot of every screen: one tile a bay, in words. */
export function Strip({ benches }: { readonly benches: readonly StripBench[] }) {
  const { bays, down, connected } = useLive();
  const remembered = useRemembered(bays);
  const shown = benches.find(({ id }) => id === remembered) ?? benches[0];
  const waiting = (id: number) =>
    bays.filter(({ benchId, live }) => benchId === id && CALLS.includes(live.mark)).length;
  // said aloud when something has to be done; numbers that run are not
  const calls = bays.filter(({ live }) => CALLS.includes(live.mark)).map(({ no, live }) => `Bay ${no}: ${live.say}.`);
  const isAway = (id: number) => down.some((each) => each.id === id);
  const elsewhere = benches.reduce((sum, { id }) => sum + (id === shown?.id || isAway(id) ? 0 : waiting(id)), 0);
  const resting = benches
    .filter(({ id }) => down.some((each) => each.id === id && each.missed))
    .map(({ name }) => name);
  const trouble = !connected
    ? "No connection to the server; the bench works on"
    : resting.length === 0
      ? undefined
      : benches.length === 1
        ? "The bench is not running"
        : `Not running: ${resting.join(", ")}`;
  return (
    <nav
      aria-label="Bench"
      className="no-print fixed inset-x-0 bottom-0 z-10 border-t-[1.5px] border-ink bg-bench max-md:static"
    >
      <p className="sr-only" role="status">
        {calls.join(" ")}
      </p>
      {trouble !== undefined && <p className="bg-clay px-6 py-1 text-sm font-semibold text-sheet">{trouble}.</p>}
      <div
        className={`grid min-h-[78px] max-md:grid-cols-1 ${benches.length === 1 ? "grid-cols-[92px_1fr]" : "grid-cols-[124px_1fr]"}`}
      >
        <div className="py-2.5 pl-6 text-[13px] leading-tight">
          {benches.length === 1 ? (
            <>
              <b>Bench</b>
              <br />
              {shown?.name}
            </>
          ) : (
            <Select
              label="Which bench"
              says="hidden"
              look="bare"
              className="w-24"
              value={String(shown?.id ?? "")}
              options={benches.map(({ id, name }) => ({
                value: String(id),
                text: isAway(id)
                  ? `${name} (not running)`
                  : waiting(id) === 0 || id === shown?.id
                    ? name
                    : `${name} (${waiting(id)} wait)`,
              }))}
              onValue={(next) => remember(Number(next))}
            />
          )}
          {shown !== undefined && shown.clockFactor !== 1 && (
            <>
              <br />
              <span className="text-faded" title="Simulated boards run this many times as fast as real ones">
                time ×{shown.clockFactor}
              </span>
            </>
          )}
          {elsewhere > 0 && (
            <span className="block text-faded" title="Bays of other benches that wait for somebody">
              elsewhere {elsewhere}
            </span>
          )}
        </div>
        <ul className="grid grid-cols-6 max-md:grid-cols-2">
          {bays.flatMap((bay) => (bay.benchId === shown?.id ? [<Tile key={bay.no} bay={bay} />] : []))}
        </ul>
      </div>
    </nav>
  );
}
