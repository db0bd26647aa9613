import { ProblemError } from "@/core/problem";
import { isOpen } from "@/server/sessions";
import { benchesDown, readBay, readBays } from "@/server/repositories/bench";
import { closeEar, hear, hearing } from "@/server/notices";
import { entriesAfter, lastNos } from "@/server/repositories/journal";
import { cursorSum, cursorText, readCursor, type Cursor } from "@/server/web/cursor";
import type { Told } from "@/contracts/answers/live";

interface Open {
  readonly closers: Set<() => void>;
  /** How many are open for each session. */
  readonly counts: Map<string, number>;
}

// However often this module is evaluated, streams are closed once when the process ends.
const holder = globalThis as typeof globalThis & { freshStartStreams?: Open };

function openStreams(): Open {
  if (holder.freshStartStreams) return holder.freshStartStreams;
  const made: Open = { closers: new Set(), counts: new Map() };
  holder.freshStartStreams = made;
  // the server waits for open answers when it is told to end: streams must end themselves
  const closeAll = () => {
    for (const close of [...made.closers]) close();
    void closeEar();
  };
  process.once("SIGTERM", closeAll);
  process.once("SIGINT", closeAll);
  return made;
}

const KEEP_ALIVE_MS = 5_000;
/** A browser needs one for all its tabs; another while the one before it is being noticed to have gone. */
const MOST_A_SESSION = 4;

/**
 * Server-Sent Events (WHATWG HTML, 9.2). The id says how far each bench's journal was told: a browser that comes back
 * gets what it missed, in order. The stream ends with the session that it was opened under.
 */
export async function openStream(request: Request, session: string): Promise<Response> {
  const release = countStream(session);
  try {
    return await streamTo(request, session, release);
  } catch (error) {
    release();
    throw error;
  }
}

/** Counts a stream in at once, however many come at the same time; gives the way to count it out. */
function countStream(session: string): () => void {
  const { counts } = openStreams();
  const open = counts.get(session) ?? 0;
  if (open >= MOST_A_SESSION)
    throw new ProblemError({
      code: "streams-many",
      message: "This browser listens already",
      detail: `${MOST_A_SESSION} streams are open in this session`,
      hint: "All tabs share one; it is tried again by itself",
    });
  counts.set(session, open + 1);
  let counted = true;
  return () => {
    if (!counted) return;
    counted = false;
    const left = (counts.get(session) ?? 1) - 1;
    if (left > 0) counts.set(session, left);
    else counts.delete(session);
  };
}

async function streamTo(request: Request, session: string, release: () => void): Promise<Response> {
  const asked = readCursor(request.headers.get("last-event-id") ?? "");
  // a number that is not reached yet is of a workshop that was restored since, or made up: it would keep what comes from being told
  const last = await lastNos();
  let cursor: Cursor = new Map([...last].map(([bench, no]) => [bench, Math.min(asked?.get(bench) ?? no, no)]));
  const state = openStreams();
  await hearing();
  const encoder = new TextEncoder();
  let close: () => void = () => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      let closed = false;
      const send = (told: Told) => {
        const id = told.kind === "bay" ? "" : `id: ${cursorText(cursor)}\n`;
        if (!closed) controller.enqueue(encoder.encode(`${id}data: ${JSON.stringify(told)}\n\n`));
      };
      const strip = async () =>
        send({ kind: "strip", bays: await readBays(), down: await benchesDown(), no: cursorSum(cursor) });
      // one after the other: entries must leave in order
      let chain = Promise.resolve();
      const inTurn = (work: () => Promise<void>) => {
        chain = chain.then(work).catch(() => close());
      };
      const dirty = new Set<number>();
      const tellJournal = () =>
        inTurn(async () => {
          const entries = await entriesAfter(cursor);
          if (entries.length === 0) return;
          cursor = new Map([...cursor, ...entries.map(({ benchId, no }) => [benchId, no] as const)]);
          send({ kind: "journal", entries, no: cursorSum(cursor) });
        });
      const tellBay = (bayNo: number) => {
        if (dirty.has(bayNo)) return;
        dirty.add(bayNo);
        inTurn(async () => {
          dirty.delete(bayNo);
          const bay = await readBay(bayNo);
          if (bay) send({ kind: "bay", bay });
        });
      };
      const pulse = setInterval(
        () =>
          inTurn(async () => {
            if (await isOpen(session)) await strip();
            else close();
          }),
        KEEP_ALIVE_MS,
      );
      close = () => {
        if (closed) return;
        closed = true;
        clearInterval(pulse);
        for (const stop of deaf) stop();
        state.closers.delete(close);
        release();
        try {
          controller.close();
        } catch {
          // the browser has gone: it is closed already
        }
      };
      // what happened while the connection was gone is fetched by number
      const deaf = [
        hear("journal", tellJournal, tellJournal),
        hear("live", (payload) => tellBay(Number(payload.split(":")[1]))),
        hear("session", (ended) => ended === session && close()),
      ];
      state.closers.add(close);
      request.signal.addEventListener("abort", close, { once: true });
      if (request.signal.aborted) return close();
      controller.enqueue(encoder.encode("retry: 1000\n\n"));
      inTurn(strip);
      if (asked) tellJournal();
    },
    cancel: () => close(),
  });
  return new Response(body, {
    headers: {
      "Content-Type": "text/event-stream; charset=utf-8",
      "Cache-Control": "no-cache, no-transform",
      "X-Accel-Buffering": "no",
    },
  });
}
