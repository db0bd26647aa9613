import os from "node:os";

/** Set by the server for itself: where a request came from. What a browser sends under this name is thrown away. */
export const ADDRESS_HEADER = "x-fresh-start-address";

const LOOPBACK = ["localhost", "127.0.0.1", "[::1]"];
const EVERYWHERE = ["0.0.0.0", "::"];

export interface Door {
  /** The names and addresses, without a port, by which browsers may ask for this workshop. */
  readonly hosts: ReadonlySet<string>;
  /** Servers before it whose word is taken on where a request comes from. */
  readonly proxies: ReadonlySet<string>;
  /** The address by which browsers reach it from outside. */
  readonly publicUrl: URL | undefined;
}

/** Own addresses and name of the machine. */
const ownNames = (): string[] => [
  os.hostname().toLowerCase(),
  ...Object.values(os.networkInterfaces()).flatMap((found) =>
    (found ?? []).map(({ address, family }) => (family === "IPv6" ? `[${address.split("%")[0]}]` : address)),
  ),
];

/** What a server that listens at `listens` answers to. A name that points here by somebody else's doing is not among it. */
export const doorAt = (listens: string, proxies: readonly string[], publicUrl?: URL): Door => ({
  hosts: new Set([
    ...LOOPBACK,
    ...(EVERYWHERE.includes(listens) ? ownNames() : [listens.includes(":") ? `[${listens}]` : listens.toLowerCase()]),
    ...(publicUrl ? [publicUrl.hostname] : []),
  ]),
  proxies: new Set(proxies),
  publicUrl,
});

/** The host of a Host header without its port; undefined when it is none (RFC 9110, 7.2). */
export function hostOf(header: string | undefined): string | undefined {
  const found = /^(\[[0-9a-f:.]+\]|[a-z0-9.-]+)(?::\d{1,5})?$/i.exec(header ?? "");
  return found?.[1]?.toLowerCase().replace(/\.$/, "");
}

/** Whether an Origin header names this workshop: its public address, or over plain HTTP the host that was asked (RFC 6454, 7). */
export function isOwnOrigin(
  origin: string | undefined,
  host: string | undefined,
  { publicUrl }: Pick<Door, "publicUrl">,
): boolean {
  if (origin === undefined || !URL.canParse(origin)) return false;
  const from = new URL(origin);
  return from.origin === publicUrl?.origin || (from.host === host && host !== publicUrl?.host);
}

export const plainAddress = (address: string | undefined): string => (address ?? "").replace(/^::ffff:/i, "");

/** Where a request comes from: what a server before this one says last, if it is one that is trusted. */
export function addressOf(socket: string | undefined, forwarded: string | undefined, door: Door): string {
  const own = plainAddress(socket);
  if (!door.publicUrl || !door.proxies.has(own)) return own;
  const forwardedAddresses = (forwarded ?? "").split(",").map((each) => plainAddress(each.trim()));
  const last = forwardedAddresses.findLast((each) => each !== "" && !door.proxies.has(each));
  return last !== undefined && /^[0-9a-f:.]{2,45}$/i.test(last) ? last : own;
}

const MOST_DEEP = 20;

/**
 * Whether a text is what a browser's page says of where it stands: a segment, and by name the states beneath it. Other texts
 * would be taken for a fault of the server's own.
 */
export function isRouterState(text: string): boolean {
  const fits = (state: unknown, depth: number): boolean => {
    if (!Array.isArray(state) || depth > MOST_DEEP) return false;
    const [segment, beneath] = state as unknown[];
    const named =
      typeof segment === "string" ||
      (Array.isArray(segment) && segment.length >= 3 && segment.slice(0, 3).every((part) => typeof part === "string"));
    return (
      named &&
      typeof beneath === "object" &&
      beneath !== null &&
      Object.values(beneath).every((each) => fits(each, depth + 1))
    );
  };
  try {
    return fits(JSON.parse(decodeURIComponent(text)), 0);
  } catch {
    return false;
  }
}
