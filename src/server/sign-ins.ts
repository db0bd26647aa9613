import { createHmac } from "node:crypto";
import { ProblemError } from "@/core/problem";
import { sessionSecret } from "@/server/env";
import { bitsFor, isPaidFor, TollDue, tollFor } from "@/server/sign-in-toll";
import { getDb } from "@/server/db";
import type { SignIn, SignInOutcome } from "@/server/models";
import { inTransaction, list, one, oneAtATime, run, type Row } from "@/server/sql";
import { col, fn, type Transaction } from "sequelize";

export type { SignInOutcome } from "@/server/models";

/** Where a request comes from, as far as the server knows. */
export interface From {
  readonly address: string;
  readonly browser: string;
  /** Known when somebody has signed in from this browser before, under this name. */
  readonly device: string;
}

/**
 * Failures at a door within the hour, and how many are free. After those each further attempt waits twice as long after the
 * one before: nobody is shut out, and nobody guesses often. A browser from which somebody has signed in under the name
 * before has a door of its own, so that no stranger can make its owner wait.
 */
const FREE = { device: 5, nameAndAddress: 5, name: 40 } as const;
const MOST_WAIT_S = 40;

/** How long after the last of so many failures the next attempt is looked at, in seconds. */
export const waitAfter = (failures: number, free: number): number =>
  failures < free ? 0 : Math.min(MOST_WAIT_S, 2 ** (failures - free));

/** A name as it was typed, which may have been a password: kept as a keyed hash only. */
export const hashOfName = (name: string): string =>
  createHmac("sha256", sessionSecret()).update(`name ${name.toLowerCase()}`).digest("hex").slice(0, 32);

export async function logSignIn(
  {
    accountId,
    who,
    from,
    outcome,
    detail = "",
  }: {
    readonly accountId: number | null;
    readonly who: string;
    readonly from: From;
    readonly outcome: SignInOutcome;
    readonly detail?: string;
  },
  transaction?: Transaction,
): Promise<void> {
  await getDb().SignIn.create(
    {
      account_id: accountId,
      who,
      device: from.device,
      address: from.address.slice(0, 60),
      browser: from.browser.slice(0, 200),
      outcome,
      detail: detail.slice(0, 200),
    },
    transaction ? { transaction } : {},
  );
}

/**
 * That a door is closed is written down once in a minute, however often somebody knocks; that an address has to pay, once for
 * all the names that are tried from it. Looked up and written in one statement: a flood must not make many.
 */
const logClosed = (
  accountId: number | null,
  who: string,
  from: From,
  why: "wait" | "toll",
  transaction?: Transaction,
): Promise<void> =>
  run(
    `insert into sign_ins (account_id, who, device, address, browser, outcome, detail)
     select $1, $2, $3, $4, $5, 'throttled', $6 where not exists
       (select 1 from sign_ins where outcome = 'throttled' and address = $4 and (who = $2 or detail = $6 and $6 <> '')
          and at > now() - interval '1 minute')`,
    [
      ...[accountId, who, from.device, from.address.slice(0, 60), from.browser.slice(0, 200)],
      why === "toll" ? "many names from one address: each attempt costs work" : "",
    ],
    transaction,
  );

/** The door that an attempt stands before. */
const doorOf = (who: string, from: From): string => (from.device === "" ? `${who} ${from.address}` : from.device);

interface Failures {
  readonly device: number;
  readonly deviceAgo: number | null;
  readonly nameAndAddress: number;
  readonly nameAndAddressAgo: number | null;
  readonly name: number;
  readonly nameAgo: number | null;
  /** Of any name from the address, within ten minutes; as many as matter. */
  readonly address: number;
  /** The last failure of the name from the address. */
  readonly last: string;
}

/**
 * Counted by the database in one look at the rows. What was written while the clock was ahead counts for nothing: it would be
 * a wall until that time has come.
 */
const FAILURES = `
  with failed as (
    select * from sign_ins where outcome = 'refused' and who = $1 and at between now() - interval '1 hour' and clock_timestamp()
      and id > coalesce((select max(id) from sign_ins where who = $1 and outcome = 'unlocked'), 0))
  select count(*) filter (where device <> '' and device = $2)::int as device,
    extract(epoch from now() - max(at) filter (where device <> '' and device = $2))::float as "deviceAgo",
    count(*) filter (where device = '' and address = $3)::int as "nameAndAddress",
    extract(epoch from now() - max(at) filter (where device = '' and address = $3))::float as "nameAndAddressAgo",
    count(*) filter (where device = '')::int as name,
    extract(epoch from now() - max(at) filter (where device = ''))::float as "nameAgo",
    coalesce(max(id) filter (where device = '' and address = $3), 0)::text as last,
    (select count(*)::int from (select 1 from sign_ins where outcome = 'refused' and address = $3 and device = ''
       and at between now() - interval '10 minutes' and clock_timestamp() limit 5000) each_failed) as address
  from failed`;

/**
 * Throws when the next attempt at this door is not to be looked at yet: `sign-in-throttled` with how long to wait, or, where
 * many other names have failed from the same address, `TollDue`; `paid`: the work for that, done; undefined: none is asked. A browser that is known
 * pays no toll.
 */
async function requireOpenDoor(
  who: string,
  from: From,
  paid: string | undefined,
  transaction?: Transaction,
): Promise<void> {
  const found = await one<Failures>(FAILURES, [who, from.device, from.address], transaction);
  if (!found) return;
  const counted = from.device === "" ? (["nameAndAddress", "name"] as const) : (["device"] as const);
  const wait = Math.max(...counted.map((door) => waitAfter(found[door], FREE[door]) - (found[`${door}Ago`] ?? 0)));
  if (wait > 0)
    throw new ProblemError({
      code: "sign-in-throttled",
      message: "Too many attempts",
      hint: `Try again in ${Math.ceil(wait)} s. Who keeps the machine can open the door at once: bin/account unlock NAME`,
    });
  const bits = from.device === "" && paid !== undefined ? bitsFor(found.address) : 0;
  const attempt = `${who} ${from.address} ${found.last}`;
  if (bits > 0 && !isPaidFor(paid ?? "", attempt, bits, Date.now()))
    throw new TollDue(tollFor(attempt, bits, Date.now()));
}

/**
 * An attempt at a secret, looked at behind its door: `prove` does what takes long, with nothing held; `decide` says what came
 * of it and logs it, one attempt of a door after the other. An attempt whose door was closed meanwhile is not told whether it
 * was right. Throws `sign-in-throttled`, `TollDue`.
 */
export async function behindDoor<P, T>(
  { accountId, who, from, paid }: { accountId: number | null; who: string; from: From; paid?: string },
  prove: () => Promise<P>,
  decide: (proven: P, transaction: Transaction) => Promise<T>,
): Promise<T> {
  const closed = async (error: unknown, transaction?: Transaction) => {
    if (error instanceof ProblemError)
      await logClosed(accountId, who, from, error instanceof TollDue ? "toll" : "wait", transaction);
    return { error };
  };
  try {
    await requireOpenDoor(who, from, paid);
  } catch (error) {
    throw (await closed(error)).error;
  }
  const proven = await prove();
  const end = await inTransaction(async (transaction) => {
    await oneAtATime(`door ${doorOf(who, from)}`, transaction);
    try {
      await requireOpenDoor(who, from, paid, transaction);
    } catch (error) {
      return closed(error, transaction);
    }
    return { is: await decide(proven, transaction) };
  });
  // thrown out here, so that the line in the log stays
  if ("error" in end) throw end.error;
  return end.is;
}

/**
 * Whether somebody who is in already knows a secret of the account: asked at the same door as signing in, and counted there,
 * so that a session left open is no place to guess. Nobody who is in pays a toll. Throws `sign-in-throttled`.
 */
export function knowsSecret<P>(
  account: { readonly id: number; readonly name: string },
  from: From,
  what: string,
  prove: () => Promise<P>,
  isRight: (proven: P, transaction: Transaction) => Promise<boolean> | boolean,
): Promise<boolean> {
  const who = hashOfName(account.name);
  return behindDoor({ accountId: account.id, who, from }, prove, async (proven, transaction) => {
    const right = await isRight(proven, transaction);
    if (!right) await logSignIn({ accountId: account.id, who, from, outcome: "refused", detail: what }, transaction);
    return right;
  });
}

export interface SignInLine extends Row<SignIn, "id" | "at" | "address" | "browser" | "outcome" | "detail"> {
  readonly name: string | null;
  /** Somebody had come in from this browser before. */
  readonly known: boolean;
}

/** The log, newest first; of one account if it is named. */
export async function signInLog(limit: number, accountId?: number): Promise<SignInLine[]> {
  const found = await list(getDb().SignIn, {
    where: accountId === undefined ? {} : { account_id: accountId },
    include: [{ association: "account", attributes: ["name"] }],
    order: [["id", "desc"]],
    limit,
  });
  return found.map(({ id, at, account, address, browser, outcome, detail, device }) => ({
    ...{ id, at, address, browser, outcome, detail },
    name: account?.name ?? null,
    known: device !== "",
  }));
}

/** When each account came in last. */
export async function lastSignIns(): Promise<Map<number, Date>> {
  const found = await getDb().SignIn.findAll({
    where: { outcome: "in" },
    attributes: ["account_id", [fn("max", col("at")), "at"]],
    group: ["account_id"],
    raw: true,
  });
  return new Map(found.flatMap(({ account_id, at }) => (account_id === null ? [] : [[account_id, at] as const])));
}
