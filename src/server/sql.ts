import { QueryTypes, type Transaction } from "sequelize";
import { getDb } from "@/server/db";

type Bind = readonly unknown[];

/** Rows of a query with $1, $2 … bound. */
export function rows<T extends object>(sql: string, bind: Bind = [], transaction?: Transaction): Promise<T[]> {
  return getDb().sequelize.query<T>(sql, {
    bind: [...bind],
    type: QueryTypes.SELECT,
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
  await getDb().sequelize.query(sql, { bind: [...bind], ...(transaction ? { transaction } : {}) });
}

export const inTransaction = <T>(work: (transaction: Transaction) => Promise<T>): Promise<T> =>
  getDb().sequelize.transaction(work);

/** A pattern that finds a text anywhere, in any case; `%` and `_` in it mean themselves. */
export const likeText = (text: string): string => `%${text.replace(/[\\%_]/g, (mark) => `\\${mark}`)}%`;
