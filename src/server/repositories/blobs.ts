import { createHash } from "node:crypto";
import { ProblemError } from "@/core/problem";
import { one, run } from "@/server/sql";
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
      detail: name,
      hint: "Restore the database from its own backup",
    });
  if (sha256(row.bytes) !== name)
    throw new ProblemError({
      code: "blob-damaged",
      message: "Stored bytes are damaged",
      detail: name,
      hint: "Restore the database from its own backup",
    });
  return new Uint8Array(row.bytes);
}

export const putJson = (value: unknown, transaction?: Transaction): Promise<string> =>
  putBlob(new TextEncoder().encode(JSON.stringify(value)), transaction);

/** A document of the product's own making; its hash vouches for its shape. */
export async function getJson(name: string): Promise<unknown> {
  return JSON.parse(new TextDecoder().decode(await getBlob(name))) as unknown;
}
