import { randomBytes } from "node:crypto";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { object, string } from "yup";

const environment = object({
  DATABASE_URL: string()
    .matches(/^postgres(ql)?:\/\//, "DATABASE_URL must be a postgres:// address")
    .required("DATABASE_URL is not set; bin/start sets it"),
  FRESH_START_DATA: string().default(".data"),
  COOKIE_SECURE: string().oneOf(["0", "1"]).default("0"),
});

// Read when first needed: the build loads modules without any environment.
const read = () => environment.validateSync(process.env, { stripUnknown: true });

export const databaseUrl = (): string => read().DATABASE_URL;
export const dataFolder = (): string => path.resolve(read().FRESH_START_DATA);
export const secureCookie = (): boolean => read().COOKIE_SECURE === "1";

let secret: string | undefined;

/** Key that seals session cookies: made at the first start, kept in the data folder, readable by its owner only. */
export function sessionSecret(): string {
  if (secret !== undefined) return secret;
  const file = path.join(dataFolder(), "session.secret");
  mkdirSync(dataFolder(), { recursive: true });
  try {
    // "wx": of two processes that start at once, one makes the file and the other reads it
    writeFileSync(file, randomBytes(36).toString("base64url"), { mode: 0o600, flag: "wx" });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
  }
  return (secret = readFileSync(file, "utf8").trim());
}
