"use client";

import { useEffect, useState } from "react";
import type { BayLive } from "@/core/job/live";

/** A restart of a board takes a second or two; so long its sheet stays as it was. */
const RESTART_MS = 4000;

/** Whether the board itself is there, by its console or its loader. */
export const isSeen = ({ presence }: BayLive) => presence === "console" || presence === "loader";
const sameBoard = (a: BayLive, b: BayLive) => a.simBoardId === b.simBoardId && a.line?.path === b.line?.path;
/** Power and port are there, only the board is not: it restarts, or it stays away. */
const isExpected = ({ cable, line }: BayLive) => cable === true || line?.state === "open" || line?.state === "asked";

/** What is said of now, over what was known of the board before it went. */
function keepKnown(past: BayLive, now: BayLive): BayLive {
  const known: Partial<BayLive> = { ...past };
  // a job that ended meanwhile has ended
  delete (known as { job?: unknown }).job;
  const { presence } = past;
  return { ...known, ...now, ...(presence === undefined ? {} : { presence }) };
}

/**
 * A bay as its sheet shows it: while a board restarts, what was known of it and what can be done with it stay where they
 * are, so that nothing jumps under the hand; what the bay says of it is always of now. What comes back as something else
 * shows itself at once, and a pulled cable does.
 */
export function useSteady(live: BayLive): BayLive {
  const [past, setPast] = useState<BayLive>();
  const [away, setAway] = useState(false);
  const seen = isSeen(live);
  if (seen && live !== past) {
    setPast(live);
    setAway(false);
  }
  // what is plugged in next is known when it has said what it is
  if (!seen && past !== undefined && !(sameBoard(past, live) && isExpected(live))) setPast(undefined);
  useEffect(() => {
    if (seen) return undefined;
    const timer = setTimeout(() => setAway(true), RESTART_MS);
    return () => clearTimeout(timer);
  }, [seen]);
  if (seen || away || past === undefined) return live;
  return keepKnown(past, live);
}
