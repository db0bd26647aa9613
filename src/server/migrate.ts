import { SequelizeStorage, Umzug } from "umzug";
import { getDb } from "@/server/db";
import * as workshop from "@/server/migrations/0001-workshop";
import * as standards from "@/server/migrations/0002-standards-and-notes";
import * as register from "@/server/migrations/0003-register";
import * as boardsMove from "@/server/migrations/0004-boards-move";
import * as promises from "@/server/migrations/0005-promises";
import * as ports from "@/server/migrations/0006-ports";

/** Migrations in order. Imported by name, so that nothing is read from the disk at run time. */
const MIGRATIONS = [
  { name: "0001-workshop", up: workshop.up },
  { name: "0002-standards-and-notes", up: standards.up },
  { name: "0003-register", up: register.up },
  { name: "0004-boards-move", up: boardsMove.up },
  { name: "0005-promises", up: promises.up },
  { name: "0006-ports", up: ports.up },
];

/** Brings the schema up to date; two processes at once do it one after the other. */
export async function migrate(): Promise<string[]> {
  const { sequelize } = getDb();
  const umzug = new Umzug({
    migrations: MIGRATIONS.map((m) => ({ name: m.name, up: () => m.up({ context: sequelize.getQueryInterface() }) })),
    context: {},
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  const done = await umzug.up();
  return done.map((migration) => migration.name);
}
