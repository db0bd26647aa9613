import { getIronSession, type IronSession } from "iron-session";
import { cookies } from "next/headers";
import { redirect } from "next/navigation";
import { accountById, type SignedIn } from "@/server/accounts";
import { secureCookie, sessionSecret } from "@/server/env";
import { mayActAs, type Role } from "@/server/roles";
import { ProblemError } from "@/core/problem";

interface SessionData {
  accountId?: number;
}

interface SetCookie {
  (name: string, value: string, cookie?: object): void;
  (options: { name: string; value: string }): void;
}

const TWELVE_HOURS_S = 12 * 3600;

/** The sealed session cookie of the request: http-only, same-site, twelve hours. */
export async function getSession(): Promise<IronSession<SessionData>> {
  const store = await cookies();
  // the types of iron-session 8 and of Next's cookies() disagree under exactOptionalPropertyTypes only
  const set: SetCookie = (...args: unknown[]) => void Reflect.apply(store.set, store, args);
  return getIronSession<SessionData>(
    { get: (name) => store.get(name), set },
    {
      cookieName: "fresh_start",
      password: sessionSecret(),
      ttl: TWELVE_HOURS_S,
      cookieOptions: { httpOnly: true, sameSite: "lax", secure: secureCookie() },
    },
  );
}

/** Who is signed in. The account is looked up at each request, so that a removed one is out at once. */
export async function currentAccount(): Promise<SignedIn | undefined> {
  const { accountId } = await getSession();
  return accountId === undefined ? undefined : accountById(accountId);
}

/** For pages: whoever is not signed in goes to the door. */
export async function requirePage(): Promise<SignedIn> {
  return (await currentAccount()) ?? redirect("/sign-in");
}

/** For handlers: at least this role, or a problem. */
export async function requireRole(role: Role): Promise<SignedIn> {
  const account = await currentAccount();
  if (!account)
    throw new ProblemError({ code: "signed-out", message: "You are not signed in", hint: "Sign in and try again" });
  if (!mayActAs(account.role, role))
    throw new ProblemError({
      code: "role-refused",
      message: `This needs the role ${role}`,
      detail: `You are signed in as ${account.name}, ${account.role}`,
      hint: `Ask a ${role}`,
    });
  return account;
}
