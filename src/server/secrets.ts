import { createHash, randomBytes } from "node:crypto";
import { databaseUrl } from "@/server/env";
import { getDb } from "@/server/db";
import { first } from "@/server/sql";
import type { Transaction } from "sequelize";

/**
 * A secret of this workshop by its name: made when it is first wanted, kept in its database, and so in its copies. Who holds
 * the database holds them; what only this machine shall know stands in the data folder.
 */
export async function secretOf(name: string, transaction?: Transaction): Promise<string> {
  const { Secret } = getDb();
  const held = { where: { name }, attributes: ["value"] as const };
  const there = await first(Secret, { ...held, transaction });
  if (there) return there.value;
  // of two who want it at once, both get the one that came first
  await Secret.bulkCreate([{ name, value: randomBytes(36).toString("base64url") }], {
    ignoreDuplicates: true,
    ...(transaction ? { transaction } : {}),
  });
  return (await first(Secret, { ...held, transaction }))?.value ?? "";
}

const holder = globalThis as typeof globalThis & { freshStartMark?: { readonly of: string; readonly mark: string } };

/** Eight letters that are this workshop's own: what two workshops on one machine keep in one browser is told apart by them. */
export async function workshopMark(): Promise<string> {
  const [of, known] = [databaseUrl(), holder.freshStartMark];
  if (known?.of === of) return known.mark;
  const secret = await secretOf("workshop");
  const mark = createHash("sha256").update(`mark ${secret}`).digest("hex").slice(0, 8);
  holder.freshStartMark = { of, mark };
  return mark;
}
