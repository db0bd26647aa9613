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

export const plainAddress = (address: string | undefined): string => (address ?? "").replace(/^::ffff:/i, "");

/** Where a request comes from: what a server before this one says last, if it is one that is trusted. */
export function addressOf(socket: string | undefined, forwarded: string | undefined, door: Door): string {
  const own = plainAddress(socket);
  if (!door.publicUrl || !door.proxies.has(own)) return own;
  const told = (forwarded ?? "").split(",").map((each) => plainAddress(each.trim()));
  const last = told.findLast((each) => each !== "" && !door.proxies.has(each));
  return last !== undefined && /^[0-9a-f:.]{2,45}$/i.test(last) ? last : own;
}
