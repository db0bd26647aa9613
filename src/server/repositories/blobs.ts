import { createHash } from "node:crypto";
import { ProblemError, problemOf } from "@/core/problem";
import { one, rows, run } from "@/server/sql";
import type { Transaction } from "sequelize";

export const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** Stores bytes once by their SHA-256, and gives it. */
export async function putBlob(bytes: Uint8Array, transaction?: Transaction): Promise<string> {
  const name = sha256(bytes);
  await run(
    "insert into blobs (sha256, bytes, size_bytes) values ($1, $2, $3) on conflict do nothing",
    [name, Buffer.from(bytes), bytes.length],
    transaction,
  );
  return name;
}

/** The bytes of that name, proved against it. */
export async function getBlob(name: string): Promise<Uint8Array> {
  const row = await one<{ bytes: Buffer }>("select bytes from blobs where sha256 = $1", [name]);
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
  const some = await rows<{ sha256: string; bytes: Buffer }>(
    "select sha256, bytes from blobs where sha256 > $1 order by sha256 limit $2",
    [after, AT_ONCE],
  );
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
  const found = await rows<{ what: string }>(
    `select 'backup ' || name as what from backups where sha256 = $1
     union all select 'image of ' || release_id || ' for ' || target from images where sha256 = $1`,
    [name],
  );
  return found.map(({ what }) => what).join(", ") || "a paper of a job";
}

export const putJson = (value: unknown, transaction?: Transaction): Promise<string> =>
  putBlob(new TextEncoder().encode(JSON.stringify(value)), transaction);

/** A document of the product's own making; its hash vouches for its shape. */
export async function getJson(name: string): Promise<unknown> {
  return JSON.parse(new TextDecoder().decode(await getBlob(name))) as unknown;
}
