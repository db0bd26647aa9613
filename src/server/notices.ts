import createSubscriber, { type Subscriber } from "pg-listen";
import { databaseUrl } from "@/server/env";

/** Channels on which the processes wake each other. */
export const CHANNELS = {
  journal: "fresh_start_journal",
  live: "fresh_start_live",
  orderDone: "fresh_start_order_done",
  session: "fresh_start_session",
} as const;
export type Channel = keyof typeof CHANNELS;
type Hearer = (payload: string) => void;

interface Ear {
  readonly subscriber: Subscriber<Record<string, string>>;
  readonly hearers: Readonly<Record<Channel, Set<Hearer>>>;
  /** Told when the connection is back: what was said meanwhile has to be looked up. */
  readonly back: Set<() => void>;
  /** Resolves when notices are being heard for the first time, or the first try has failed. */
  readonly ready: Promise<void>;
}

// One connection of its own for the whole process, however often this module is evaluated.
const holder = globalThis as typeof globalThis & { freshStartEar?: Ear };

function ear(): Ear {
  if (holder.freshStartEar) return holder.freshStartEar;
  const subscriber = createSubscriber<Record<string, string>>(
    { connectionString: databaseUrl(), keepAlive: true, application_name: "fresh-start notices" },
    // payloads are plain texts; the database may be away for as long as it likes
    { parse: (text) => text, serialize: (text: string) => text, retryTimeout: Infinity, retryInterval: 1000 },
  );
  const hearers = {
    journal: new Set<Hearer>(),
    live: new Set<Hearer>(),
    orderDone: new Set<Hearer>(),
    session: new Set<Hearer>(),
  };
  const back = new Set<() => void>();
  for (const channel of Object.keys(CHANNELS) as Channel[])
    subscriber.notifications.on(CHANNELS[channel], (payload: string) => {
      for (const hear of [...hearers[channel]]) hear(payload);
    });
  subscriber.events.on("connected", () => {
    for (const tell of [...back]) tell();
  });
  // it tries again by itself
  subscriber.events.on("error", () => undefined);
  const ready = subscriber
    .connect()
    .then(async () => {
      for (const channel of Object.values(CHANNELS)) await subscriber.listenTo(channel);
    })
    .catch(() => undefined);
  return (holder.freshStartEar = { subscriber, hearers, back, ready });
}

/** Hears a channel until the returned function is called. `onBack` is called whenever the connection was gone and is back. */
export function hear(channel: Channel, hearer: Hearer, onBack?: () => void): () => void {
  const { hearers, back } = ear();
  hearers[channel].add(hearer);
  if (onBack) back.add(onBack);
  return () => {
    hearers[channel].delete(hearer);
    if (onBack) back.delete(onBack);
  };
}

export const hearing = (): Promise<void> => ear().ready;

export async function closeEar(): Promise<void> {
  const { freshStartEar: open } = holder;
  delete holder.freshStartEar;
  await open?.subscriber.close().catch(() => undefined);
}
