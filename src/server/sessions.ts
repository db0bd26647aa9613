import { createHash, randomBytes } from "node:crypto";
import { secondFactorFor, sessionIdleMinutes } from "@/server/env";
import type { From } from "@/server/sign-ins";
import type { Role } from "@/server/roles";
import { literal, Op } from "sequelize";
import { getDb } from "@/server/db";
import type { Session as SessionRow } from "@/server/models";
import { first, inTransaction, list, notify, NOW, type Row } from "@/server/sql";

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
  await getDb().Session.create({
    id: idOf(token),
    account_id: accountId,
    address: from.address.slice(0, 60),
    browser: from.browser.slice(0, 200),
  });
  return token;
}

/** So many minutes ago, by the database's own clock. */
const ago = (minutes: number) => literal(`now() - ${minutes} * interval '1 minute'`);

/** Sessions that open something, with whose they are. */
const open = () => ({
  where: {
    ended_at: null,
    created_at: { [Op.gt]: ago(LONGEST_HOURS * 60) },
    seen_at: { [Op.gt]: ago(sessionIdleMinutes()) },
  },
  include: [{ association: "account", where: { disabled_at: null }, required: true }],
});

function wantsSecond(role: Role): boolean {
  const who = secondFactorFor();
  return who === "everyone" || (who === "leads" && role === "lead");
}

/** The session that a token opens, while it is open. `use`: somebody is there; a page that only listens is no use. */
export async function sessionOf(token: string, use = true): Promise<Session | undefined> {
  const id = idOf(token);
  const { Session } = getDb();
  const { where, include } = open();
  const session = await first(Session, { where: { ...where, id }, include });
  const account = session?.account;
  if (!account) return undefined;
  // this program's clock only saves writing: what counts is the database's
  if (use && Math.abs(Date.now() - session.seen_at.getTime()) > SEEN_EVERY_S * 1000)
    await Session.update({ seen_at: NOW }, { where: { id, ended_at: null } });
  const { name, role, person, password_temporary: mustChange } = account;
  const mustProve = account.second_key === null && wantsSecond(role);
  return { id, account: { id: account.id, name, role, person, mustChange, mustProve } };
}

/** Whether a session is open still, by its id. */
export async function isOpen(id: string): Promise<boolean> {
  const { where, include } = open();
  return (await first(getDb().Session, { where: { ...where, id }, include })) !== undefined;
}

/** Ends sessions, and what listens under them at once. */
export async function endSessions(
  which: { readonly id: string } | { readonly accountId: number; readonly but?: string | undefined },
  why: string,
): Promise<number> {
  const whose =
    "id" in which
      ? { id: which.id }
      : { account_id: which.accountId, ...(which.but === undefined ? {} : { id: { [Op.ne]: which.but } }) };
  return inTransaction(async (transaction) => {
    const [, ended] = await getDb().Session.update(
      { ended_at: NOW, ended_why: why },
      { where: { ended_at: null, ...whose }, returning: true, transaction },
    );
    for (const { id } of ended) await notify("session", id, transaction);
    return ended.length;
  });
}

export type OpenSession = Row<SessionRow>;

/** All that are open now, the last used first. */
export function openSessions(accountId?: number): Promise<OpenSession[]> {
  const { where, include } = open();
  const of = accountId === undefined ? {} : { account_id: accountId };
  return list(getDb().Session, { where: { ...where, ...of }, include, order: [["seen_at", "desc"]] });
}
