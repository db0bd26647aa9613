// One stream for all tabs of a browser: what it tells goes to each of them. It is open while any tab listens.
// Sent to the browser as it stands here, because shared workers are not bundled: no imports, no types.
/** @typedef {import("./live-port").FromLive} FromLive */

/** After a stream that the server refused (signed out, too many), in ms; others are opened again by the browser itself. */
const AGAIN_MS = 5_000;

/** @type {Set<MessagePort>} */
const ports = new Set();
/** @type {EventSource | undefined} */
let source;
/** @type {ReturnType<typeof setTimeout> | undefined} */
let again;
let connected = false;
/** What was told last of the strip as a whole: a tab that comes later begins with it. @type {string | undefined} */
let strip;

/** @param {FromLive} told */
function tell(told) {
  for (const port of ports) port.postMessage(told);
}

/** @param {boolean} now */
function setConnected(now) {
  connected = now;
  tell({ kind: "connected", connected });
}

function open() {
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
  opened.onmessage = ({ data }) => {
    if (data.startsWith('{"kind":"strip"')) strip = data;
    tell({ kind: "told", data });
  };
}

/** @param {MessagePort} port */
function leave(port) {
  ports.delete(port);
  port.close();
  if (ports.size > 0) return;
  clearTimeout(again);
  source?.close();
  source = undefined;
  strip = undefined;
  connected = false;
}

self.addEventListener("connect", (event) => {
  const [port] = /** @type {MessageEvent} */ (event).ports;
  if (!port) return;
  ports.add(port);
  port.onmessage = ({ data }) => {
    if (data === "leave") leave(port);
  };
  if (connected) port.postMessage({ kind: "connected", connected });
  if (strip !== undefined) port.postMessage({ kind: "told", data: strip });
  open();
});
