import { QueryTypes, type Transaction } from "sequelize";
import { getDb } from "@/server/db";

type Bind = readonly unknown[];

const storableText = (text: string) => text.toWellFormed().replaceAll("\0", "␀");

/**
 * What PostgreSQL can keep in text and JSON: a NUL is written as its picture, half a character as the sign for one that
 * was not understood. Boards and line noise send both; their bytes as received are kept elsewhere, as blobs.
 */
export function storable<T>(value: T): T {
  if (typeof value === "string") return storableText(value) as T;
  if (Array.isArray(value)) return value.map(storable) as T;
  if (typeof value !== "object" || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [storableText(key), storable(each)])) as T;
}

/** For jsonb columns. */
export const jsonText = (value: unknown): string => JSON.stringify(storable(value));

/** What only reads goes over other connections than what may have to wait for a row that somebody else changes. */
const connectionsFor = (sql: string) => {
  const { sequelize, changing } = getDb();
  return /^\s*(select|with)\b/i.test(sql) ? sequelize : changing;
};

/** Rows of a query with $1, $2 … bound. */
export function rows<T extends object>(sql: string, bind: Bind = [], transaction?: Transaction): Promise<T[]> {
  return connectionsFor(sql).query<T>(sql, {
    bind: bind.map(storable),
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
  await connectionsFor(sql).query(sql, { bind: bind.map(storable), ...(transaction ? { transaction } : {}) });
}

export const inTransaction = <T>(work: (transaction: Transaction) => Promise<T>): Promise<T> =>
  getDb().changing.transaction(work);

/** A pattern that finds a text anywhere, in any case; `%` and `_` in it mean themselves. */
export const likeText = (text: string): string => `%${text.replace(/[\\%_]/g, (mark) => `\\${mark}`)}%`;
