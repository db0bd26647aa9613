import { createHash, randomBytes } from "node:crypto";
import { secondFactorFor, sessionIdleMinutes } from "@/server/env";
import type { From } from "@/server/sign-ins";
import type { Role } from "@/server/roles";
import { one, rows, run } from "@/server/sql";

export interface SignedIn {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** What they are called by, where it was said. */
  readonly person: string;
  /** The password was given by somebody else and has to be replaced first. */
  readonly mustChange: boolean;
  /** The workshop wants a second factor of them, and there is none. */
  readonly mustProve: boolean;
}

export interface Session {
  readonly id: string;
  readonly account: SignedIn;
}

/** However busy it is: a session ends after a working day. */
const LONGEST_HOURS = 12;
/** Being in use is written down so often. */
const SEEN_EVERY_S = 30;

const idOf = (token: string): string => createHash("sha256").update(token).digest("hex");

/** Begins a session; the token goes into the browser's cookie and is kept nowhere else. */
export async function beginSession(accountId: number, from: From): Promise<string> {
  const token = randomBytes(32).toString("base64url");
  await run("insert into sessions (id, account_id, address, browser) values ($1, $2, $3, $4)", [
    idOf(token),
    accountId,
    from.address.slice(0, 60),
    from.browser.slice(0, 200),
  ]);
  return token;
}

const OPEN = `s.ended_at is null and a.disabled_at is null
  and s.created_at > now() - interval '${LONGEST_HOURS} hours' and s.seen_at > now() - $2 * interval '1 minute'`;

function wantsSecond(role: Role): boolean {
  const who = secondFactorFor();
  return who === "everyone" || (who === "leads" && role === "lead");
}

/** The session that a token opens, while it is open. `use`: somebody is there; a page that only listens is no use. */
export async function sessionOf(token: string, use = true): Promise<Session | undefined> {
  const id = idOf(token);
  const row = await one<{
    id: number;
    name: string;
    role: Role;
    person: string;
    password_temporary: boolean;
    proved: boolean;
    stale: boolean;
  }>(
    `select a.id, a.name, a.role, a.person, a.password_temporary, a.second_key is not null as proved,
            s.seen_at < now() - $3 * interval '1 second' as stale
     from sessions s join accounts a on a.id = s.account_id where s.id = $1 and ${OPEN}`,
    [id, sessionIdleMinutes(), SEEN_EVERY_S],
  );
  if (!row) return undefined;
  if (use && row.stale) await run("update sessions set seen_at = now() where id = $1 and ended_at is null", [id]);
  const { name, role, person } = row;
  const mustProve = !row.proved && wantsSecond(role);
  return { id, account: { id: row.id, name, role, person, mustChange: row.password_temporary, mustProve } };
}

/** Whether a session is open still, by its id. */
export const isOpen = async (id: string): Promise<boolean> =>
  (await one(`select s.id from sessions s join accounts a on a.id = s.account_id where s.id = $1 and ${OPEN}`, [
    id,
    sessionIdleMinutes(),
  ])) !== undefined;

/** Ends sessions, and what listens under them at once. */
export async function endSessions(
  which: { readonly id: string } | { readonly accountId: number; readonly but?: string | undefined },
  why: string,
): Promise<number> {
  const ended = await rows<{ id: string }>(
    `update sessions set ended_at = now(), ended_why = $3 where ended_at is null
       and (id = $1 or account_id = $2::int) and id is distinct from $4 returning id, pg_notify('fresh_start_session', id)`,
    "id" in which ? [which.id, null, why, null] : ["", which.accountId, why, which.but ?? null],
  );
  return ended.length;
}

export interface OpenSession {
  readonly id: string;
  readonly account_id: number;
  readonly address: string;
  readonly browser: string;
  readonly created_at: Date;
  readonly seen_at: Date;
}

/** All that are open now, the last used first. */
export const openSessions = (accountId?: number): Promise<OpenSession[]> =>
  rows(
    `select s.id, s.account_id, s.address, s.browser, s.created_at, s.seen_at
     from sessions s join accounts a on a.id = s.account_id
     where ($1::int is null or a.id = $1) and ${OPEN} order by s.seen_at desc`,
    [accountId ?? null, sessionIdleMinutes()],
  );
