import { Sequelize } from "sequelize";
import { databaseUrl } from "@/server/env";
import { closeEar } from "@/server/notices";
import { initModels, type Models } from "@/server/models";

export interface Db extends Models {
  readonly sequelize: Sequelize;
}

/**
 * Limits of the database for each kind of process, in ms: how long a statement, a wait for somebody else's lock, and a
 * transaction in which nothing happens may take. A process that is frozen in a transaction is let go of, and holds up nobody.
 */
const LIMITS = {
  web: { statement_timeout: 30_000, lock_timeout: 8_000, idle_in_transaction_session_timeout: 10_000 },
  bench: { statement_timeout: 60_000, lock_timeout: 10_000, idle_in_transaction_session_timeout: 10_000 },
  // looks and imports that take their time
  tool: { statement_timeout: 0, lock_timeout: 60_000, idle_in_transaction_session_timeout: 60_000 },
} as const;
export type Part = keyof typeof LIMITS;

/** Which kind of process this is; said once, before the database is asked anything. */
export function actAs(part: Part): void {
  holder.freshStartPart = part;
}

// The web loads this module several times in one process: the pool must live on globalThis, in production too.
const holder = globalThis as typeof globalThis & { freshStartDb?: Db; freshStartPart?: Part };

export function getDb(): Db {
  if (holder.freshStartDb) return holder.freshStartDb;
  const sequelize = connections();
  return (holder.freshStartDb = { sequelize, ...initModels(sequelize) });
}

/**
 * Connections for reading, and others for whatever changes something: those may have to wait for each other, and nobody who
 * reads waits for them. Sequelize knows the two from databases with replicas; here both lead to the same one.
 */
function connections(): Sequelize {
  const part = holder.freshStartPart ?? "tool";
  return new Sequelize(databaseUrl(), {
    dialect: "postgres",
    logging: false,
    dialectOptions: { application_name: `fresh-start ${part}`, ...LIMITS[part] },
    replication: { read: [{}], write: {} },
    pool: { max: 6, min: 0, idle: 10_000, acquire: 15_000 },
  });
}

export async function closeDb(): Promise<void> {
  const db = holder.freshStartDb;
  delete holder.freshStartDb;
  await closeEar();
  await db?.sequelize.close();
}
