import type { FromLive, ToLive } from "@/workers/live-port";

// One stream for all tabs of a browser: what it tells goes to each of them. It is open while any tab listens.

/** After a stream that the server refused (signed out, too many), in ms; others are opened again by the browser itself. */
const AGAIN_MS = 5_000;

const ports = new Set<MessagePort>();
let source: EventSource | undefined;
let again: ReturnType<typeof setTimeout> | undefined;
let connected = false;
/** What was told last of the strip as a whole: a tab that comes later begins with it. */
let strip: string | undefined;

function tell(news: FromLive): void {
  for (const port of ports) port.postMessage(news);
}

function setConnected(now: boolean): void {
  connected = now;
  tell({ kind: "connected", connected });
}

function open(): void {
  clearTimeout(again);
  if (source || ports.size === 0) return;
  const opened = new EventSource("/api/events");
  source = opened;
  opened.onopen = () => setConnected(true);
  opened.onerror = () => {
    setConnected(false);
    if (opened.readyState !== EventSource.CLOSED) return;
    source = undefined;
    again = setTimeout(open, AGAIN_MS);
    // why it was refused, an event stream does not say
    fetch("/api/events", { method: "HEAD" }).then(
      ({ status }) => {
        if (status === 401) tell({ kind: "out" });
      },
      () => undefined,
    );
  };
  opened.onmessage = ({ data }: MessageEvent<string>) => {
    if (data.startsWith('{"kind":"strip"')) strip = data;
    tell({ kind: "told", data });
  };
}

function leave(port: MessagePort): void {
  ports.delete(port);
  port.close();
  if (ports.size > 0) return;
  clearTimeout(again);
  source?.close();
  source = undefined;
  strip = undefined;
  connected = false;
}

// the types of a page know no shared worker, whose only event of its own this is
globalThis.addEventListener("connect", (event) => {
  const [port] = (event as MessageEvent).ports;
  if (!port) return;
  ports.add(port);
  port.onmessage = ({ data }: MessageEvent<unknown>) => {
    if (data === ("leave" satisfies ToLive)) leave(port);
  };
  if (connected) port.postMessage({ kind: "connected", connected } satisfies FromLive);
  if (strip !== undefined) port.postMessage({ kind: "told", data: strip } satisfies FromLive);
  open();
});
