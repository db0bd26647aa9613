import type { ConsolePort } from "@/core/console";
import type { LoaderPorts, LoaderSeen } from "@/core/loader";

/** By what something that shows itself is told from what showed itself before it. */
export interface Shown {
  /** As the machine calls it; a board may come back under the name that it left with. */
  readonly port: string;
  /** Counts up with each time that something shows itself anew. */
  readonly appearance: number;
}

/** What stands on a cable. A bare serial line has no USB identity. */
export type Presence =
  | { readonly kind: "none" }
  | ({ readonly kind: "console"; readonly vendorId?: number; readonly productId?: number } & Shown)
  | ({ readonly kind: "loader" } & Shown & LoaderSeen);

/** The way to one board, whatever is behind it. Times in µs of the link's own clock. */
export interface BoardLink extends LoaderPorts {
  presence(): Presence;
  /** The board was told to restart. A line that stands whoever is on it has to be asked anew who is; others see it go. */
  readonly toldToLeave?: () => void;
  readonly clock: { nowUs(): number; waitUntil(us: number): Promise<void> };
  readonly console: ConsolePort;
}

const POLL_MS = 50;

/** Waits until the board shows up as wanted; undefined when the limit has passed. */
export async function awaitPresence<K extends Presence["kind"]>(
  link: BoardLink,
  kinds: readonly K[],
  limitMs: number,
): Promise<Extract<Presence, { kind: K }> | undefined> {
  const end = link.clock.nowUs() + limitMs * 1000;
  for (;;) {
    const presence = link.presence();
    if ((kinds as readonly string[]).includes(presence.kind)) return presence as Extract<Presence, { kind: K }>;
    if (link.clock.nowUs() >= end) return undefined;
    await link.clock.waitUntil(Math.min(end, link.clock.nowUs() + POLL_MS * 1000));
  }
}

/** Waits until the board has left the cable, as it does at a restart; whether it did is not an error. */
export async function awaitDeparture(link: BoardLink, limitMs: number): Promise<void> {
  link.toldToLeave?.();
  await awaitPresence(link, ["none"], limitMs);
}
