import { getIronSession, type IronSession } from "iron-session";
import { cookies, headers } from "next/headers";
import { forbidden, redirect } from "next/navigation";
import { randomBytes } from "node:crypto";
import { hasAccounts, type AccountRow } from "@/server/accounts";
import { secureCookie, sessionSecret } from "@/server/env";
import { cookieNameOf, type CookieName } from "@/server/cookie-name";
import { beginSession, endSessions, sessionOf, type Session, type SignedIn } from "@/server/sessions";
import { hashOfName, logSignIn, type From } from "@/server/sign-ins";
import { ADDRESS_HEADER } from "@/server/web/door";
import { mayActAs, type Role } from "@/server/roles";
import { ProblemError } from "@/core/problem";

interface SetCookie {
  (name: string, value: string, cookie?: object): void;
  (options: { name: string; value: string }): void;
}

const TWELVE_HOURS_S = 12 * 3600;
const HALF_A_YEAR_S = 180 * 24 * 3600;

/** A sealed cookie of the request: http-only, same-site. One that cannot be opened is as good as none. */
async function sealed<T extends object>(name: CookieName, ttl: number): Promise<IronSession<T>> {
  const store = await cookies();
  // the types of iron-session 8 and of Next's cookies() disagree under exactOptionalPropertyTypes only
  const set: SetCookie = (...args: unknown[]) => void Reflect.apply(store.set, store, args);
  const cookieName = await cookieNameOf(name);
  return getIronSession<T>(
    { get: (key) => store.get(key), set },
    {
      cookieName,
      password: sessionSecret(),
      ttl,
      cookieOptions: { httpOnly: true, sameSite: "lax", secure: secureCookie(), path: "/" },
    },
  );
}

const tokenCookie = () => sealed<{ token?: string }>("fresh_start", TWELVE_HOURS_S);
/** Names, hashed, under which somebody has signed in from this browser, each with the browser's id for it. */
const deviceCookie = () => sealed<{ known?: Record<string, string> }>("fresh_start_known", HALF_A_YEAR_S);
const MOST_KNOWN = 8;

/** Where the request comes from; with a name, also whether this browser has been let in under it before. */
export async function whereFrom(name?: string): Promise<From> {
  const head = await headers();
  const known = name === undefined ? {} : ((await deviceCookie()).known ?? {});
  return {
    address: head.get(ADDRESS_HEADER) ?? "",
    browser: head.get("user-agent") ?? "",
    device: (name === undefined ? undefined : known[hashOfName(name)]) ?? "",
  };
}

/** Lets somebody in whose password was right. */
export async function letIn(account: Pick<AccountRow, "id" | "name">): Promise<void> {
  const session = await tokenCookie();
  // whoever was in from this browser is out
  await endCurrent("somebody signed in from the same browser");
  session.token = await beginSession(account.id, await whereFrom());
  await session.save();
  const device = await deviceCookie();
  const who = hashOfName(account.name);
  const others = Object.entries(device.known ?? {}).filter(([key]) => key !== who);
  device.known = Object.fromEntries([
    [who, device.known?.[who] ?? randomBytes(15).toString("base64url")],
    ...others.slice(0, MOST_KNOWN - 1),
  ]);
  await device.save();
}

async function endCurrent(why: string): Promise<Session | undefined> {
  const session = await currentSession(false);
  if (session) await endSessions({ id: session.id }, why);
  return session;
}

export async function signOut(): Promise<void> {
  const ended = await endCurrent("signed out");
  if (ended)
    await logSignIn({
      accountId: ended.account.id,
      who: hashOfName(ended.account.name),
      from: await whereFrom(),
      outcome: "out",
    });
  (await tokenCookie()).destroy();
}

/** The open session of the request. It is looked up at each one, so that whoever was put out is out at once. */
export async function currentSession(use = true): Promise<Session | undefined> {
  const { token } = await tokenCookie();
  return typeof token === "string" ? sessionOf(token, use) : undefined;
}

export const currentAccount = async (): Promise<SignedIn | undefined> => (await currentSession())?.account;

/** For pages: whoever is not signed in goes to the door, the first of all to the making of the first account. */
export async function requirePage(role: Role = "observer"): Promise<SignedIn> {
  const account = await currentAccount();
  if (!account) redirect((await hasAccounts()) ? "/sign-in" : "/first");
  if (account.mustChange) redirect("/new-password");
  if (account.mustProve) redirect("/second-factor");
  // said on the page itself: whoever is led elsewhere does not know why
  if (!mayActAs(account.role, role)) forbidden();
  return account;
}

/** For handlers: at least this role, or a problem. `fresh`: also while a password or a second factor is still to be made. */
export async function requireSession(role: Role, { use = true, fresh = false } = {}): Promise<Session> {
  const session = await currentSession(use);
  if (!session)
    throw new ProblemError({ code: "signed-out", message: "You are not signed in", hint: "Sign in and try again" });
  const { account } = session;
  if (account.mustChange && !fresh)
    throw new ProblemError({
      code: "password-temporary",
      message: "Your password was made by somebody else",
      hint: "Replace it with one of your own first",
    });
  if (account.mustProve && !fresh)
    throw new ProblemError({
      code: "second-missing",
      message: "This workshop wants a second factor of you",
      hint: "Set one up first, at /second-factor",
    });
  if (!mayActAs(account.role, role))
    throw new ProblemError({
      code: "role-refused",
      message: `This needs the role ${role}`,
      detail: `You are signed in as ${account.name}, ${account.role}`,
      hint: `Ask a ${role}`,
    });
  return session;
}

export const requireRole = async (role: Role): Promise<SignedIn> => (await requireSession(role)).account;
