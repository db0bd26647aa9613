import type { ConsolePort } from "@/core/console";
import type { LoaderDescriptor, UsbPort } from "@/core/loader";

/** What stands on a cable. */
export type Presence =
  | { readonly kind: "none" }
  | { readonly kind: "console"; readonly port: string; readonly vendorId: number; readonly productId: number }
  | ({ readonly kind: "usb-loader"; readonly port: string } & LoaderDescriptor);

/** The way to one board, whatever is behind it. Times in µs of the link's own clock. */
export interface BoardLink {
  presence(): Presence;
  readonly clock: { nowUs(): number; waitUntil(us: number): Promise<void> };
  readonly console: ConsolePort;
  readonly usb: UsbPort;
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
  await awaitPresence(link, ["none"], limitMs);
}
