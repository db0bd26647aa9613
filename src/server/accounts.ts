import { hash, verify } from "@node-rs/argon2";
import { randomBytes } from "node:crypto";
import { getDb } from "@/server/db";
import { one, run } from "@/server/sql";
import { ProblemError } from "@/core/problem";
import type { Role } from "@/server/roles";

/** Argon2id (RFC 9106) with the second recommended set scaled to a small server: 19 MiB, 2 passes. */
const ARGON = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
const MAX_FAILURES = 8;
const WINDOW_MINUTES = 10;

export const hashPassword = (password: string): Promise<string> => hash(password, ARGON);

export interface SignedIn {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
}

let dummy: Promise<string> | undefined;

/**
 * Checks name and password. Eight failures in ten minutes for a name close its door for the rest of them. An unknown
 * name costs the same time as a known one.
 */
export async function signIn(name: string, password: string): Promise<SignedIn> {
  const who = name.toLowerCase();
  const failures = await one<{ n: number }>(
    "select count(*)::int as n from sign_in_failures where who = $1 and at > now() - $2 * interval '1 minute'",
    [who, WINDOW_MINUTES],
  );
  if ((failures?.n ?? 0) >= MAX_FAILURES)
    throw new ProblemError({
      code: "sign-in-throttled",
      message: "Too many attempts",
      hint: `Wait ${WINDOW_MINUTES} minutes and try again`,
    });
  const account = await getDb().Account.findOne({ where: { name } });
  const good = await verify(
    account?.password_hash ?? (await (dummy ??= hashPassword(randomBytes(9).toString("hex")))),
    password,
  );
  if (!account || !good) {
    await run("insert into sign_in_failures (who) values ($1)", [who]);
    throw new ProblemError({
      code: "sign-in-refused",
      message: "Name or password is wrong",
      hint: "Check both; the names are written small",
    });
  }
  return { id: account.id, name: account.name, role: account.role };
}

export async function accountById(id: number): Promise<SignedIn | undefined> {
  const account = await getDb().Account.findByPk(id);
  return account ? { id: account.id, name: account.name, role: account.role } : undefined;
}

/** The role of an account now, by its name. */
export const roleOf = async (name: string): Promise<Role | undefined> =>
  (await getDb().Account.findOne({ where: { name } }))?.role;

export const newPassword = (): string => randomBytes(9).toString("base64url");

/** In a workshop without accounts: a lead with a password made up now. */
export async function ensureFirstAccount(): Promise<{ name: string; password: string } | undefined> {
  const { Account } = getDb();
  if ((await Account.count()) > 0) return undefined;
  const password = newPassword();
  await Account.create({ name: "lead", role: "lead", password_hash: await hashPassword(password) });
  return { name: "lead", password };
}
