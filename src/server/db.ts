import { Sequelize } from "sequelize";
import { databaseUrl } from "@/server/env";
import { closeEar } from "@/server/notices";
import { initModels, type Models } from "@/server/models";

export interface Db extends Models {
  readonly sequelize: Sequelize;
}

// The web loads this module several times in one process: the pool must live on globalThis, in production too.
const holder = globalThis as typeof globalThis & { freshStartDb?: Db };

export function getDb(): Db {
  if (holder.freshStartDb) return holder.freshStartDb;
  const sequelize = new Sequelize(databaseUrl(), {
    dialect: "postgres",
    logging: false,
    pool: { max: 8, min: 0, idle: 10_000, acquire: 15_000 },
  });
  return (holder.freshStartDb = { sequelize, ...initModels(sequelize) });
}

export async function closeDb(): Promise<void> {
  const db = holder.freshStartDb;
  delete holder.freshStartDb;
  await closeEar();
  await db?.sequelize.close();
}
