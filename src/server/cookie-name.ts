import { secureCookie } from "@/server/env";
import { workshopMark } from "@/server/secrets";

export type CookieName = "fresh_start" | "fresh_start_known";

/** Cookies know no ports (RFC 6265, 8.5): the name carries the workshop's own mark, so that two on one machine sign nobody out. */
export async function cookieNameOf(name: CookieName): Promise<string> {
  const own = `${name}_${await workshopMark()}`;
  // behind TLS the browser itself sees to it that no other host has set it (RFC 6265bis, 4.1.3)
  return secureCookie() ? `__Host-${own}` : own;
}
