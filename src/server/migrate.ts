import { SequelizeStorage, Umzug } from "umzug";
import { Sequelize } from "sequelize";
import { ProblemError } from "@/core/problem";
import { databaseUrl, ownerUrl } from "@/server/env";
import { grantTo } from "@/server/grants";
import * as workshop from "@/server/migrations/0001-workshop";
import * as standards from "@/server/migrations/0002-standards-and-notes";
import * as register from "@/server/migrations/0003-register";
import * as boardsMove from "@/server/migrations/0004-boards-move";
import * as promises from "@/server/migrations/0005-promises";
import * as ports from "@/server/migrations/0006-ports";
import * as keepers from "@/server/migrations/0007-keepers";
import * as secondFactor from "@/server/migrations/0008-second-factor";
import * as campaigns from "@/server/migrations/0009-campaigns";
import * as withdrawn from "@/server/migrations/0010-withdrawn";
import * as benches from "@/server/migrations/0011-benches";
import * as signed from "@/server/migrations/0012-signed";
import * as states from "@/server/migrations/0013-states";
import * as clock from "@/server/migrations/0014-clock";
import * as parts from "@/server/migrations/0015-parts";

/** Migrations in order. Imported by name, so that nothing is read from the disk at run time. */
export const MIGRATIONS = [
  { name: "0001-workshop", up: workshop.up },
  { name: "0002-standards-and-notes", up: standards.up },
  { name: "0003-register", up: register.up },
  { name: "0004-boards-move", up: boardsMove.up },
  { name: "0005-promises", up: promises.up },
  { name: "0006-ports", up: ports.up },
  { name: "0007-keepers", up: keepers.up },
  { name: "0008-second-factor", up: secondFactor.up },
  { name: "0009-campaigns", up: campaigns.up },
  { name: "0010-withdrawn", up: withdrawn.up },
  { name: "0011-benches", up: benches.up },
  { name: "0012-signed", up: signed.up },
  { name: "0013-states", up: states.up },
  { name: "0014-clock", up: clock.up },
  { name: "0015-parts", up: parts.up },
];

/** Any number that no other program is likely to take for a lock of its own. */
const LOCK = 4_170_001;

/**
 * Brings the schema up to date, as the owner of the tables; two processes at once do it one after the other. Refuses a
 * schema that a later version of this program has brought further than this one knows. `upTo`: stops at that migration.
 */
export async function migrate(upTo?: string): Promise<string[]> {
  const url = ownerUrl();
  const sequelize = new Sequelize(url, { dialect: "postgres", logging: false, pool: { max: 3 } });
  const runs = new URL(databaseUrl()).username;
  try {
    // held until its transaction ends, which is when all is done, or the process is gone
    return await sequelize.transaction(async (transaction) => {
      await sequelize.query("select pg_advisory_xact_lock(:lock)", { replacements: { lock: LOCK }, transaction });
      // eslint-disable-next-line no-restricted-syntax -- its lock is there to be held meanwhile
      const done = await migrateAlone(sequelize, upTo);
      // eslint-disable-next-line no-restricted-syntax -- as above
      if (runs !== new URL(url).username && upTo === undefined) await grantTo(decodeURIComponent(runs), sequelize);
      return done;
    });
  } finally {
    await sequelize.close();
  }
}

async function migrateAlone(sequelize: Sequelize, upTo?: string): Promise<string[]> {
  const storage = new SequelizeStorage({ sequelize });
  const umzug = new Umzug({
    migrations: MIGRATIONS.map((m) => ({ name: m.name, up: () => m.up({ context: sequelize.getQueryInterface() }) })),
    context: {},
    storage,
    logger: undefined,
  });
  const known = MIGRATIONS.map(({ name }) => name);
  const later = (await storage.executed()).filter((name) => !known.includes(name));
  if (later.length > 0)
    throw new ProblemError({
      code: "schema-newer",
      message: "A later version of Fresh Start has worked on this database",
      detail: `This one does not know ${later.join(", ")}`,
      hint: "Start the later version; nothing was touched",
    });
  const done = await umzug.up(upTo === undefined ? {} : { to: upTo });
  return done.map((migration) => migration.name);
}
