import {
  fn,
  literal,
  QueryTypes,
  type Attributes,
  type CountOptions,
  type FindOptions,
  type Model,
  type ModelStatic,
  type Transaction,
} from "sequelize";
import type { Fn } from "sequelize/types/utils";
import { getDb } from "@/server/db";
import { storable } from "@/server/storable";

type Bind = readonly unknown[];

/**
 * Rows of a query with $1, $2 … bound: for what models can't say. Whoever uses it says why. What only reads goes over other
 * connections than what may have to wait for a row that somebody else changes.
 */
export function rows<T extends object>(sql: string, bind: Bind = [], transaction?: Transaction): Promise<T[]> {
  return getDb().sequelize.query<T>(sql, {
    bind: bind.map(storable),
    type: QueryTypes.SELECT,
    useMaster: !/^\s*(select|with)\b/i.test(sql),
    ...(transaction ? { transaction } : {}),
  });
}

export async function one<T extends object>(
  sql: string,
  bind: Bind = [],
  transaction?: Transaction,
): Promise<T | undefined> {
  return (await rows<T>(sql, bind, transaction))[0];
}

export async function run(sql: string, bind: Bind = [], transaction?: Transaction): Promise<void> {
  await getDb().sequelize.query(sql, { bind: bind.map(storable), ...(transaction ? { transaction } : {}) });
}

export const inTransaction = <T>(work: (transaction: Transaction) => Promise<T>): Promise<T> =>
  getDb().sequelize.transaction(work);

/** Columns of a model and what is joined to it, without a model's methods. */
export type Row<M extends Model, K extends keyof Attributes<M> = keyof Attributes<M>> = Pick<M, K> &
  Omit<M, keyof Model | keyof Attributes<M>>;

interface Found<M extends Model, K extends keyof Attributes<M>> extends Omit<
  FindOptions<Attributes<M>>,
  "attributes" | "raw" | "nest" | "transaction"
> {
  /** Columns; all without them. */
  readonly attributes?: readonly K[];
  readonly transaction?: Transaction | undefined;
}

/** Rows of a model, as they are. */
export function list<M extends Model, K extends keyof Attributes<M> = keyof Attributes<M>>(
  model: ModelStatic<M>,
  options: Found<M, K> = {},
): Promise<Row<M, K>[]> {
  const { transaction, attributes, ...rest } = options;
  return model.findAll<M>({
    ...rest,
    ...(attributes ? { attributes: [...attributes] as string[] } : {}),
    ...(transaction ? { transaction } : {}),
    raw: true,
    nest: rest.include !== undefined,
  });
}

/** The first row of a model, as it is. */
export async function first<M extends Model, K extends keyof Attributes<M> = keyof Attributes<M>>(
  model: ModelStatic<M>,
  options: Found<M, K> = {},
): Promise<Row<M, K> | undefined> {
  return (await list(model, { ...options, limit: 1 }))[0];
}

export async function exists<M extends Model>(
  model: ModelStatic<M>,
  where: NonNullable<CountOptions<Attributes<M>>["where"]>,
  transaction?: Transaction,
): Promise<boolean> {
  const one = [literal("1"), "one"] satisfies [unknown, string];
  const options = { where, limit: 1, attributes: [one], raw: true };
  return (await model.findAll({ ...options, ...(transaction ? { transaction } : {}) })).length > 0;
}

/** The database's own clock, at the beginning of the transaction. */
export const NOW: Fn = fn("now");

/** Only one transaction at a time is past this, for the same name; it ends with the transaction. A lock is not said by a model. */
export const oneAtATime = (name: LockName, transaction: Transaction): Promise<void> =>
  run("select pg_advisory_xact_lock($1, hashtext($2))", [LOCKS, name], transaction);

/** First half of the numbers of this program's locks in a database. */
const LOCKS = 4171;
export type LockName =
  | "leads"
  | "documents"
  | "images"
  | "benches"
  | "boards"
  | "signing keys"
  | `door ${string}`
  | `campaign of ${string}`
  | `decisions of ${number}`;

/** Wakes who listens for it, when the transaction is through; `hear` of `notices.ts` is the other end. */
export const notify = (
  about: "orders" | "order_done" | "journal" | "keeper" | "session",
  what: string,
  transaction?: Transaction,
): Promise<void> => run("select pg_notify($1, $2)", [`fresh_start_${about}`, what], transaction);

/** A pattern that finds a text anywhere, in any case; `%` and `_` in it mean themselves. */
export const likeText = (text: string): string => `%${text.replace(/[\\%_]/g, (mark) => `\\${mark}`)}%`;
