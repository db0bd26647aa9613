"use client";

import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { useRefresh } from "@/ui/base/use-refresh";
import type { BayLive } from "@/core/job";
import type { FromLive, ToLive } from "@/workers/live-port";
import type { Bay, BenchDown, Told } from "@/contracts/answers/live";

interface Live {
  readonly bays: readonly Bay[];
  /** Benches whose process does not run; whether they are missed. */
  readonly down: readonly BenchDown[];
  readonly connected: boolean;
}

const LiveContext = createContext<Live>({ bays: [], down: [], connected: true });

export const useLive = (): Live => useContext(LiveContext);

export const useBay = (no: number): BayLive | undefined => useLive().bays.find((bay) => bay.no === no)?.live;

/** `workers/live.shared.ts` as the build makes it: the bundler of pages makes none of shared workers. */
const LIVE_WORKER = "/workers/live.js";

/**
 * Listens to the stream of this browser, which all its tabs share: browsers open about six connections to one origin, and a
 * stream for each tab would leave none for anything else. Without shared workers a tab has one of its own.
 */
function listen(
  onConnected: (connected: boolean) => void,
  onTold: (data: string) => void,
  onOut: () => void,
): () => void {
  if (typeof SharedWorker === "undefined") {
    const source = new EventSource("/api/events");
    source.onopen = () => onConnected(true);
    source.onerror = () => onConnected(false);
    source.onmessage = (message: MessageEvent<string>) => onTold(message.data);
    return () => source.close();
  }
  const { port } = new SharedWorker(LIVE_WORKER, { name: "live" });
  port.onmessage = ({ data }: MessageEvent<FromLive>) => {
    if (data.kind === "connected") onConnected(data.connected);
    else if (data.kind === "out") onOut();
    else onTold(data.data);
  };
  const leave = () => port.postMessage("leave" satisfies ToLive);
  window.addEventListener("pagehide", leave);
  return () => {
    window.removeEventListener("pagehide", leave);
    leave();
  };
}

/**
 * One stream for all that this browser watches. The strip lives on it; a new line in the journal makes the page fetch
 * itself again. A dropped stream continues by its last number, by the browser's own doing.
 */
export function LiveProvider({
  bays,
  no,
  children,
}: {
  readonly bays: readonly Bay[];
  readonly no: number;
  readonly children: ReactNode;
}) {
  const refresh = useRefresh();
  const [live, setLive] = useState<Live>({ bays, down: [], connected: true });
  const seen = useRef(no);
  useEffect(() => {
    const stopListening = listen(
      (connected) => setLive((old) => ({ ...old, connected })),
      (data) => {
        const news = JSON.parse(data) as Told;
        if (news.kind === "strip") {
          setLive({ bays: news.bays, down: news.down, connected: true });
          if (news.no > seen.current) refresh();
          seen.current = Math.max(seen.current, news.no);
        } else if (news.kind === "bay")
          setLive((old) => ({ ...old, bays: old.bays.map((bay) => (bay.no === news.bay.no ? news.bay : bay)) }));
        else {
          seen.current = news.no;
          refresh();
        }
      },
      // the page, asked for again, leads to the door
      refresh,
    );
    return stopListening;
  }, [refresh]);
  return <LiveContext value={live}>{children}</LiveContext>;
}
