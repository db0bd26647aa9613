import { randomBytes } from "node:crypto";
import { ProblemError } from "@/core/problem";
import { checkPassword, fitsHash, hashPassword, newPassword } from "@/server/passwords";
import { endSessions } from "@/server/sessions";
import { trySecond } from "@/server/second-factor";
import { behindDoor, hashOfName, knowsSecret, logSignIn, type From } from "@/server/sign-ins";
import { getDb } from "@/server/db";
import type { Account } from "@/server/models";
import { exists, first, inTransaction, list, NOW, oneAtATime, type Row } from "@/server/sql";
import type { Role } from "@/server/roles";
import { col, fn, Op, UniqueConstraintError, type Transaction, type WhereOptions } from "sequelize";

/** What is known of an account, without what it is opened with. */
export interface AccountRow extends Omit<Row<Account>, Secret> {
  /** A code is wanted beside the password. */
  readonly second: boolean;
}
type Secret = "password_hash" | "second_key" | "second_step";

const shown = (account: Row<Account>): AccountRow => {
  const { id, name, person, role, password_temporary, disabled_at, created_at } = account;
  return { id, name, person, role, password_temporary, disabled_at, created_at, second: account.second_key !== null };
};

const accountWhere = async (where: WhereOptions<Account>): Promise<AccountRow | undefined> => {
  const found = await first(getDb().Account, { where });
  return found && shown(found);
};

/** With the hash of its password, for whoever tries one. */
const openable = (where: WhereOptions<Account>): Promise<Row<Account> | undefined> => first(getDb().Account, { where });

export const allAccounts = async (): Promise<AccountRow[]> =>
  (await list(getDb().Account, { order: ["name"] })).map(shown);

/** The account of that name; throws when there is none. */
export async function accountNamed(name: string): Promise<AccountRow> {
  const found = await accountWhere({ name: name.toLowerCase() });
  if (found) return found;
  throw new ProblemError({
    code: "account-none",
    message: `There is no account “${name}”`,
    hint: "Names are written small; the list of people has them all",
  });
}

export async function accountById(id: number): Promise<AccountRow> {
  const found = await accountWhere({ id });
  if (found) return found;
  throw new ProblemError({ code: "account-none", message: "There is no such account" });
}

/** The role of an account now, by its name; none for one that is closed. */
export const roleOf = async (name: string): Promise<Role | undefined> =>
  (await accountWhere({ name, disabled_at: null }))?.role;

/** What somebody is called by; the account's name where nobody said. */
export async function personOf(name: string): Promise<string> {
  const person = (await accountWhere({ name }))?.person ?? "";
  return person === "" ? name : person;
}

export const hasAccounts = (transaction?: Transaction): Promise<boolean> => exists(getDb().Account, {}, transaction);

let dummy: Promise<string> | undefined;
const dummyHash = () => (dummy ??= hashPassword(randomBytes(9).toString("hex")));

const NOT_IN = {
  // the password was right: that is no failed attempt, and nobody is in yet
  wanted: { code: "code-wanted", message: "A code is wanted as well", hint: "Your authenticator shows it" },
  wrong: {
    code: "sign-in-refused",
    message: "The code is wrong",
    hint: "Take the one that is shown this moment; each counts once",
  },
  password: {
    code: "sign-in-refused",
    message: "Name or password is wrong",
    hint: "Check both; the names are written small",
  },
} as const;

interface Attempt {
  readonly name: string;
  readonly password: string;
  readonly code?: string | undefined;
  /** The work that was done for it, if it was asked for. */
  readonly paid?: string | undefined;
}

/**
 * Checks name and password; gives the account. Everything that comes of it stands in the log. An unknown name costs the
 * same time as a known one, and is told in the same words.
 */
export async function signIn({ name, password, code, paid = "" }: Attempt, from: From): Promise<AccountRow> {
  const who = hashOfName(name);
  const account = await openable({ name: name.toLowerCase() });
  const accountId = account?.id ?? null;
  const verdict = await behindDoor(
    { accountId, who, from, paid },
    async () => fitsHash(password, account?.password_hash ?? (await dummyHash())),
    async (good, transaction) => {
      const line = { accountId, who, from };
      const second =
        account && good && account.disabled_at === null
          ? await trySecond(account.id, code, Date.now(), transaction)
          : undefined;
      if (account && (second === "none" || second === "right")) {
        const detail = second === "right" ? "with a code" : "";
        await logSignIn({ ...line, outcome: "in", detail }, transaction);
        return { account: shown(account) };
      }
      if (second === "wanted") return { refused: NOT_IN.wanted };
      const detail = account?.disabled_at ? "the account is closed" : second === "wrong" ? "the code is wrong" : "";
      await logSignIn({ ...line, outcome: "refused", detail }, transaction);
      return { refused: second === "wrong" ? NOT_IN.wrong : NOT_IN.password };
    },
  );
  if (verdict.account) return verdict.account;
  throw new ProblemError(verdict.refused);
}

const NAME = /^[a-z][a-z0-9._-]{0,38}[a-z0-9]$/;

export interface NewAccount {
  readonly name: string;
  readonly person: string;
  readonly role: Role;
}

/** What an account begins with: its password, and the hash of it, which takes a while. */
async function readyToAdd({ name, person }: NewAccount, own?: string): Promise<{ password: string; hash: string }> {
  if (!NAME.test(name))
    throw new ProblemError({
      code: "account-name",
      message: `“${name}” cannot be the name of an account`,
      hint: "Two to forty small letters, digits, dots and hyphens, beginning with a letter",
    });
  if (own !== undefined) checkPassword(own, [name, person]);
  const password = own ?? newPassword();
  return { password, hash: await hashPassword(password) };
}

async function insertAccount(
  { name, person, role }: NewAccount,
  hash: string,
  temporary: boolean,
  transaction?: Transaction,
): Promise<{ id: number }> {
  try {
    const account = { name, person, role, password_hash: hash, password_temporary: temporary };
    const { id } = await getDb().Account.create(account, transaction ? { transaction } : {});
    return { id };
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error;
    throw new ProblemError({
      code: "account-there",
      message: `There is an account “${name}” already`,
      hint: "Names are never given twice: what was signed with one stays signed by it",
    });
  }
}

/** Adds an account. Without a password of its own it gets one that must be replaced at the first sign-in; given once. */
export async function addAccount(account: NewAccount, own?: string): Promise<{ id: number; password: string }> {
  const { password, hash } = await readyToAdd(account, own);
  const { id } = await insertAccount(account, hash, own === undefined);
  return { id, password };
}

/** Makes the first lead of an empty workshop; refused when anybody is there. */
export async function addFirstLead(name: string, person: string, password: string): Promise<{ id: number }> {
  const lead = { name, person, role: "lead" } as const;
  const { hash } = await readyToAdd(lead, password);
  return inTransaction(async (transaction) => {
    await oneAtATime("leads", transaction);
    if (await hasAccounts(transaction))
      throw new ProblemError({
        code: "first-taken",
        message: "The workshop has its first lead already",
        hint: "Sign in, or ask the lead for an account",
      });
    return insertAccount(lead, hash, false, transaction);
  });
}

/** A new password by somebody else: it is given once, has to be replaced, and whoever was signed in is out. */
export async function resetPassword(id: number, by: string): Promise<string> {
  const { name } = await accountById(id);
  const password = newPassword();
  const password_hash = await hashPassword(password);
  await getDb().Account.update({ password_hash, password_temporary: true }, { where: { id } });
  await endSessions({ accountId: id }, `a new password was given by ${by}`);
  await unlock(name, by);
  return password;
}

/** One's own password, with the one that was so far. All other sessions of the account end. */
export async function changePassword(
  id: number,
  old: string,
  wanted: string,
  session: string,
  from: From,
): Promise<void> {
  const row = await openable({ id });
  if (
    !row ||
    !(await knowsSecret(
      row,
      from,
      "a new password, with a wrong old one",
      () => fitsHash(old, row.password_hash),
      (fits) => fits,
    ))
  )
    throw new ProblemError({
      code: "password-wrong",
      message: "That is not your password so far",
      hint: "Nothing was changed. A lead can give you a new one",
    });
  if (old === wanted)
    throw new ProblemError({ code: "password-same", message: "That is the password that you have already" });
  checkPassword(wanted, [row.name, row.person]);
  const password_hash = await hashPassword(wanted);
  await getDb().Account.update({ password_hash, password_temporary: false }, { where: { id } });
  await endSessions({ accountId: id, but: session }, "the password was changed");
}

/** Keeps somebody able to lead: throws when nobody would be left who can. Locks against a second change of that kind. */
async function requireOtherLead(id: number, transaction: Transaction): Promise<void> {
  await oneAtATime("leads", transaction);
  const others = { role: "lead" as const, disabled_at: null, id: { [Op.ne]: id } };
  if (!(await exists(getDb().Account, others, transaction)))
    throw new ProblemError({
      code: "last-lead",
      message: "This is the last lead of the workshop",
      hint: "Make somebody else a lead first",
    });
}

/** Another role, from the next request on: whoever was signed in signs in anew. */
export async function changeRole(id: number, role: Role, by: string): Promise<void> {
  const account = await accountById(id);
  if (account.role === role) return;
  await inTransaction(async (transaction) => {
    if (account.role === "lead") await requireOtherLead(id, transaction);
    await getDb().Account.update({ role }, { where: { id }, transaction });
  });
  await endSessions({ accountId: id }, `${by} made them ${role}`);
}

export const changePerson = async (id: number, person: string): Promise<void> => {
  await accountById(id);
  await getDb().Account.update({ person }, { where: { id } });
};

/** Closes an account, or opens it again. It is never deleted: what it signed stays signed by it. */
export async function setClosed(id: number, closed: boolean, by: string): Promise<void> {
  const account = await accountById(id);
  await inTransaction(async (transaction) => {
    if (closed && account.role === "lead") await requireOtherLead(id, transaction);
    // one that is closed already stays closed since then
    const disabled_at = closed ? fn("coalesce", col("disabled_at"), NOW) : null;
    await getDb().Account.update({ disabled_at }, { where: { id }, transaction });
  });
  if (closed) await endSessions({ accountId: id }, `${by} closed the account`);
}

/** Forgets the failures under a name, so that its door is open again. */
export async function unlock(name: string, by: string): Promise<void> {
  const from = { address: "", browser: "", device: "" };
  const { id } = await accountNamed(name);
  await logSignIn({ accountId: id, who: hashOfName(name), from, outcome: "unlocked", detail: `by ${by}` });
}
