import { createHash } from "node:crypto";
import { ProblemError, problemOf } from "@/core/problem";
import { getDb } from "@/server/db";
import { first, list } from "@/server/sql";
import { Op, type Transaction } from "sequelize";

export const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** Stores bytes once by their SHA-256, and gives it. */
export async function putBlob(bytes: Uint8Array, transaction?: Transaction): Promise<string> {
  const name = sha256(bytes);
  await getDb().Blob.bulkCreate([{ sha256: name, bytes: Buffer.from(bytes), size_bytes: bytes.length }], {
    ignoreDuplicates: true,
    ...(transaction ? { transaction } : {}),
  });
  return name;
}

/** The bytes of that name, proved against it. */
export async function getBlob(name: string): Promise<Uint8Array> {
  const row = await first(getDb().Blob, { where: { sha256: name }, attributes: ["bytes"] });
  if (!row)
    throw new ProblemError({
      code: "blob-missing",
      message: "Stored bytes are missing",
      detail: await nameFor(name),
      hint: "Fetch them from a copy of the workshop: bin/restore into an empty one",
    });
  if (sha256(row.bytes) !== name)
    throw new ProblemError({
      code: "blob-damaged",
      message: "Stored bytes are damaged",
      detail: await nameFor(name),
      hint: "Fetch them from a copy of the workshop: bin/restore into an empty one",
    });
  return new Uint8Array(row.bytes);
}

/** Which bytes they are: what uses them, and their name. */
const nameFor = async (name: string) => `${await usersOf(name)}; ${name}`;

/** Whether bytes are missing or not what their name says. */
export const isSpoilt = (error: unknown): boolean => ["blob-missing", "blob-damaged"].includes(problemOf(error).code);

/** So many are read at a time: some are as large as an image. */
const AT_ONCE = 20;

export interface Damaged {
  readonly sha256: string;
  readonly usedBy: string;
}

/** Looks at some stored bytes after a name, in the order of names: which are not what they say, and where the look ended. */
export async function scrubSome(
  after: string,
): Promise<{ damaged: Damaged[]; looked: number; last: string | undefined }> {
  const some = await list(getDb().Blob, {
    where: { sha256: { [Op.gt]: after } },
    attributes: ["sha256", "bytes"],
    order: ["sha256"],
    limit: AT_ONCE,
  });
  const damaged: Damaged[] = [];
  for (const { sha256: name, bytes } of some)
    if (sha256(bytes) !== name) damaged.push({ sha256: name, usedBy: await usersOf(name) });
  return { damaged, looked: some.length, last: some.at(-1)?.sha256 };
}

/** Stored bytes that are not what their name says, with where they are used. Reads all of them, some at a time. */
export async function damagedBlobs(): Promise<Damaged[]> {
  const damaged: Damaged[] = [];
  for (let after: string | undefined = ""; after !== undefined;) {
    const found = await scrubSome(after);
    damaged.push(...found.damaged);
    after = found.last;
  }
  return damaged;
}

async function usersOf(name: string): Promise<string> {
  const { Backup, ImageRow } = getDb();
  const where = { sha256: name };
  const backups = await list(Backup.unscoped(), { where, attributes: ["name"], order: ["id"] });
  const images = await list(ImageRow, { where, attributes: ["release_id", "target"], order: ["id"] });
  const uses = [
    ...backups.map((backup) => `backup ${backup.name}`),
    ...images.map(({ release_id, target }) => `image of ${release_id} for ${target}`),
  ];
  return uses.join(", ") || "a paper of a job";
}

export const putJson = (value: unknown, transaction?: Transaction): Promise<string> =>
  putBlob(new TextEncoder().encode(JSON.stringify(value)), transaction);

/** A document of the product's own making; its hash vouches for its shape. */
export async function getJson(name: string): Promise<unknown> {
  return JSON.parse(new TextDecoder().decode(await getBlob(name))) as unknown;
}
