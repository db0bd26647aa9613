import type { Sequelize } from "sequelize";

/** What the running application may change; everything else that it may write, it may only add to. */
const CHANGES = [
  "accounts",
  "sessions",
  "aircraft",
  "boards",
  "benches",
  "bays",
  "jobs",
  "orders",
  "groundings",
  "sim_boards",
  "sim_flash",
  "read_texts",
  "campaigns",
  "campaign_members",
  "allowances",
] as const;
/** What only the owner writes, or what the database writes by itself. */
const READS_ONLY = ["seals", "seal_head", "SequelizeMeta"] as const;
/** Findings that end when what they were about is whole again. */
const TAKES_BACK = ["damaged_blobs"] as const;

const list = (tables: readonly string[]) => tables.map((table) => `"${table}"`).join(", ");

/**
 * Gives the account that the application runs under what it needs and no more: no owner of any table, it can neither drop
 * one nor switch off what guards it.
 */
export async function grantTo(role: string, sequelize: Sequelize): Promise<void> {
  if (!/^[a-z_][a-z0-9_]{0,62}$/.test(role)) throw new Error(`“${role}” cannot be the name of a database account`);
  await sequelize.query(`
    grant usage on schema public to ${role};
    revoke create on schema public from ${role};
    revoke all on all tables in schema public from ${role};
    grant select, insert on all tables in schema public to ${role};
    revoke insert on ${list(READS_ONLY)} from ${role};
    grant update on ${list(CHANGES)} to ${role};
    grant delete on ${list(TAKES_BACK)} to ${role};
    grant usage on all sequences in schema public to ${role};
  `);
}
