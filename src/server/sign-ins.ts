import { createHmac } from "node:crypto";
import { ProblemError } from "@/core/problem";
import { sessionSecret } from "@/server/env";
import { inTransaction, one, rows, run } from "@/server/sql";
import type { Transaction } from "sequelize";

/** Where a request comes from, as far as the server knows. */
export interface From {
  readonly address: string;
  readonly browser: string;
  /** Known when somebody has signed in from this browser before, under this name. */
  readonly device: string;
}

export type SignInOutcome = "in" | "refused" | "throttled" | "out" | "unlocked";

const WINDOW_MINUTES = 10;
/**
 * How many failures within the window close a door. A browser from which somebody has signed in under the name before has
 * a door of its own, so that no stranger can lock its owner out.
 */
const MOST = { device: 8, nameAndAddress: 8, address: 50, name: 100 } as const;

/** A name as it was typed, which may have been a password: kept as a keyed hash only. */
export const hashOfName = (name: string): string =>
  createHmac("sha256", sessionSecret()).update(`name ${name.toLowerCase()}`).digest("hex").slice(0, 32);

export const logSignIn = (
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
): Promise<void> =>
  run(
    "insert into sign_ins (account_id, who, device, address, browser, outcome, detail) values ($1, $2, $3, $4, $5, $6, $7)",
    [accountId, who, from.device, from.address.slice(0, 60), from.browser.slice(0, 200), outcome, detail.slice(0, 200)],
    transaction,
  );

/** That a door is closed is written down once in a minute, however often somebody knocks. */
export const logThrottled = (
  accountId: number | null,
  who: string,
  from: From,
  transaction: Transaction,
): Promise<void> =>
  run(
    `insert into sign_ins (account_id, who, device, address, browser, outcome)
     select $1, $2, $3, $4, $5, 'throttled' where not exists
       (select 1 from sign_ins where outcome = 'throttled' and who = $2 and address = $4 and at > now() - interval '1 minute')`,
    [accountId, who, from.device, from.address.slice(0, 60), from.browser.slice(0, 200)],
    transaction,
  );

/** The door that an attempt stands before. */
const doorOf = (who: string, from: From): string => (from.device === "" ? `${who} ${from.address}` : from.device);

const throttled = () =>
  new ProblemError({
    code: "sign-in-throttled",
    message: "Too many attempts",
    hint: `Wait ${WINDOW_MINUTES} minutes and try again. Who keeps the machine can open the door at once: bin/account unlock NAME`,
  });

/**
 * Throws when too many attempts have failed at this door, or another is being looked at: one after the other. Holds the
 * door until the transaction ends.
 */
export async function requireOpenDoor(who: string, from: From, transaction: Transaction): Promise<void> {
  const held = await one<{ held: boolean }>(
    "select pg_try_advisory_xact_lock(4171, hashtext($1)) as held",
    [doorOf(who, from)],
    transaction,
  );
  if (!held?.held) throw throttled();
  const found = await one<Record<keyof typeof MOST, number>>(
    `select count(*) filter (where device <> '' and device = $2)::int as device,
       count(*) filter (where who = $1 and device = '' and address = $3)::int as "nameAndAddress",
       count(*) filter (where device = '' and address = $3)::int as address,
       count(*) filter (where who = $1 and device = '')::int as name
     from sign_ins where outcome = 'refused' and at > now() - $4 * interval '1 minute' and (who = $1 or address = $3)
       and id > coalesce((select max(id) from sign_ins where who = $1 and outcome = 'unlocked'), 0)`,
    [who, from.device, from.address, WINDOW_MINUTES],
    transaction,
  );
  if (!found) return;
  const counted = from.device === "" ? (["nameAndAddress", "address", "name"] as const) : (["device"] as const);
  if (counted.some((door) => found[door] >= MOST[door])) throw throttled();
}

/**
 * Whether somebody who is in already knows a secret of the account: asked at the same door as signing in, and counted there,
 * so that a session left open is no place to guess. Throws `sign-in-throttled`.
 */
export async function knowsSecret(
  account: { readonly id: number; readonly name: string },
  from: From,
  what: string,
  attempt: (transaction: Transaction) => Promise<boolean>,
): Promise<boolean> {
  const who = hashOfName(account.name);
  const end = await inTransaction(async (transaction) => {
    try {
      await requireOpenDoor(who, from, transaction);
    } catch (error) {
      await logThrottled(account.id, who, from, transaction);
      return { error };
    }
    const right = await attempt(transaction);
    if (!right) await logSignIn({ accountId: account.id, who, from, outcome: "refused", detail: what }, transaction);
    return { right };
  });
  // thrown out here, so that the line in the log stays
  if ("error" in end) throw end.error;
  return end.right;
}

export interface SignInLine {
  readonly id: string;
  readonly at: Date;
  readonly name: string | null;
  readonly address: string;
  readonly browser: string;
  readonly outcome: SignInOutcome;
  readonly detail: string;
  readonly known: boolean;
}

/** The log, newest first; of one account if it is named. */
export const signInLog = (limit: number, accountId?: number): Promise<SignInLine[]> =>
  rows(
    `select s.id, s.at, a.name, s.address, s.browser, s.outcome, s.detail, s.device <> '' as known
     from sign_ins s left join accounts a on a.id = s.account_id
     where $2::int is null or s.account_id = $2 order by s.id desc limit $1`,
    [limit, accountId ?? null],
  );

/** When each account came in last. */
export const lastSignIns = async (): Promise<Map<number, Date>> =>
  new Map(
    (
      await rows<{ account_id: number; at: Date }>(
        "select account_id, max(at) as at from sign_ins where outcome = 'in' group by account_id",
      )
    ).map(({ account_id, at }) => [account_id, at]),
  );
