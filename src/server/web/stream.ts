import { benchIsUp, readBays, readBench, type Bay } from "@/server/repositories/bench";
import { closeEar, hear, hearing } from "@/server/notices";
import { entriesAfter, lastNo, type StreamedEntry } from "@/server/repositories/journal";

/** What a browser is told: the strip as a whole, one bay, or lines of the journal. */
export type Told =
  | { readonly kind: "strip"; readonly bays: readonly Bay[]; readonly benchUp: boolean; readonly no: number }
  | { readonly kind: "bay"; readonly bay: Bay }
  | { readonly kind: "journal"; readonly entries: readonly StreamedEntry[] };

interface Open {
  readonly closers: Set<() => void>;
}

// However often this module is evaluated, streams are closed once when the process ends.
const holder = globalThis as typeof globalThis & { freshStartStreams?: Open };

function openStreams(): Open {
  if (holder.freshStartStreams) return holder.freshStartStreams;
  const made: Open = { closers: new Set() };
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

/**
 * Server-Sent Events (WHATWG HTML, 9.2). The id is the bench's journal number: a browser that comes back gets what it
 * missed, in order.
 */
export async function openStream(request: Request): Promise<Response> {
  const bench = await readBench();
  const asked = Number(request.headers.get("last-event-id") ?? NaN);
  let no = Number.isSafeInteger(asked) && asked >= 0 ? asked : await lastNo(bench.id);
  const state = openStreams();
  await hearing();
  const encoder = new TextEncoder();
  let close: () => void = () => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      let closed = false;
      const send = (told: Told, id?: number) => {
        if (!closed)
          controller.enqueue(
            encoder.encode(`${id === undefined ? "" : `id: ${id}\n`}data: ${JSON.stringify(told)}\n\n`),
          );
      };
      const strip = async () => {
        const [bays, now] = [await readBays(bench.id), await readBench()];
        send(
          {
            kind: "strip",
            bays,
            benchUp: benchIsUp(now, Date.now()),
            no,
          },
          no,
        );
      };
      // one after the other: entries must leave in order
      let chain = Promise.resolve();
      const inTurn = (work: () => Promise<void>) => {
        chain = chain.then(work).catch(() => close());
      };
      const dirty = new Set<number>();
      const tellJournal = () =>
        inTurn(async () => {
          const entries = await entriesAfter(bench.id, no);
          const last = entries.at(-1);
          if (!last) return;
          no = last.no;
          send({ kind: "journal", entries }, no);
        });
      const tellBay = (bayNo: number) => {
        if (dirty.has(bayNo)) return;
        dirty.add(bayNo);
        inTurn(async () => {
          dirty.delete(bayNo);
          const bay = (await readBays(bench.id)).find((b) => b.no === bayNo);
          if (bay) send({ kind: "bay", bay });
        });
      };
      const pulse = setInterval(() => inTurn(strip), KEEP_ALIVE_MS);
      close = () => {
        if (closed) return;
        closed = true;
        clearInterval(pulse);
        for (const stop of deaf) stop();
        state.closers.delete(close);
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
      ];
      state.closers.add(close);
      request.signal.addEventListener("abort", close, { once: true });
      controller.enqueue(encoder.encode("retry: 1000\n\n"));
      inTurn(strip);
      if (Number.isSafeInteger(asked)) tellJournal();
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
