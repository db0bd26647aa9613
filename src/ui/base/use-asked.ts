"use client";

import { useEffect, useState } from "react";

const QUIET_MS = 120;
const LONGEST = 80;

/** What the server last answered, and to which question. */
export interface Asked<T> {
  readonly query: string | undefined;
  readonly things: readonly T[];
}

/**
 * What fits the letters typed so far, asked of the server when the typing pauses. Nothing is asked while it is not
 * `wanted`. What was found stays until something newer is.
 */
export function useAsked<T>(
  path: string,
  query: string,
  wanted: boolean,
  onFound?: (things: readonly T[]) => void,
): Asked<T> {
  const [found, setFound] = useState<Asked<T>>({ query: undefined, things: [] });
  useEffect(() => {
    if (!wanted) return undefined;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      void fetch(`${path}?q=${encodeURIComponent(query.slice(0, LONGEST))}`, { signal: stop.signal })
        .then((response) => (response.ok ? (response.json() as Promise<{ things: T[] }>) : { things: [] }))
        .then(({ things }) => {
          setFound({ query, things });
          onFound?.(things);
        })
        // a newer question has taken its place, or the server is away: what was found stays
        .catch(() => undefined);
    }, QUIET_MS);
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [path, query, wanted, onFound]);
  return found;
}
