import { Client } from "pg";
import { databaseUrl } from "@/server/env";
import { benchIsUp, readBays, readBench, type Bay } from "@/server/repositories/bench";
import { entriesAfter, lastNo, type StreamedEntry } from "@/server/repositories/journal";

/** What a browser is told: the strip as a whole, one bay, or lines of the journal. */
export type Told =
  | { readonly kind: "strip"; readonly bays: readonly Bay[]; readonly benchUp: boolean; readonly no: number }
  | { readonly kind: "bay"; readonly bay: Bay }
  | { readonly kind: "journal"; readonly entries: readonly StreamedEntry[] };

type Listener = (channel: "journal" | "live", bayNo?: number) => void;

interface Hub {
  readonly listeners: Set<Listener>;
  client: Client | undefined;
  /** Resolves when notifications are being heard for the first time, or the first try has failed. */
  ready: Promise<void>;
  readonly closers: Set<() => void>;
}

// One connection of its own for the whole process, however often this module is evaluated.
const holder = globalThis as typeof globalThis & { freshStartHub?: Hub };

function hub(): Hub {
  if (holder.freshStartHub) return holder.freshStartHub;
  const made: Hub = { listeners: new Set(), client: undefined, ready: Promise.resolve(), closers: new Set() };
  holder.freshStartHub = made;
  // the server waits for open answers when it is told to end: streams must end themselves
  const closeAll = () => {
    for (const close of [...made.closers]) close();
    const { client } = made;
    made.client = undefined;
    void client?.end();
  };
  process.once("SIGTERM", closeAll);
  process.once("SIGINT", closeAll);
  made.ready = listen(made);
  return made;
}

async function listen(state: Hub): Promise<void> {
  const client = new Client({ connectionString: databaseUrl(), keepAlive: true, application_name: "fresh-start web" });
  state.client = client;
  const again = () => {
    if (state.client !== client) return;
    state.client = undefined;
    setTimeout(() => {
      // what happened meanwhile is fetched by number
      void listen(state).then(() => state.listeners.forEach((tell) => tell("journal")));
    }, 1000);
  };
  client.on("error", again);
  client.on("end", again);
  client.on("notification", (message) => {
    if (message.channel === "fresh_start_journal") state.listeners.forEach((tell) => tell("journal"));
    else state.listeners.forEach((tell) => tell("live", Number(message.payload?.split(":")[1])));
  });
  try {
    await client.connect();
    await client.query("listen fresh_start_journal; listen fresh_start_live");
  } catch {
    again();
  }
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
  const state = hub();
  await state.ready;
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
      const tell: Listener = (channel, bayNo) => {
        if (channel === "journal")
          inTurn(async () => {
            const entries = await entriesAfter(bench.id, no);
            const last = entries.at(-1);
            if (!last) return;
            no = last.no;
            send({ kind: "journal", entries }, no);
          });
        else if (bayNo !== undefined && !dirty.has(bayNo)) {
          dirty.add(bayNo);
          inTurn(async () => {
            dirty.delete(bayNo);
            const bay = (await readBays(bench.id)).find((b) => b.no === bayNo);
            if (bay) send({ kind: "bay", bay });
          });
        }
      };
      const pulse = setInterval(() => inTurn(strip), KEEP_ALIVE_MS);
      close = () => {
        if (closed) return;
        closed = true;
        clearInterval(pulse);
        state.listeners.delete(tell);
        state.closers.delete(close);
        try {
          controller.close();
        } catch {
          // the browser has gone: it is closed already
        }
      };
      state.listeners.add(tell);
      state.closers.add(close);
      request.signal.addEventListener("abort", close, { once: true });
      controller.enqueue(encoder.encode("retry: 1000\n\n"));
      inTurn(strip);
      if (Number.isSafeInteger(asked)) tell("journal");
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
