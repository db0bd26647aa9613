import { randomBytes } from "node:crypto";
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { number, object, string } from "yup";

const environment = object({
  DATABASE_URL: string()
    .matches(/^postgres(ql)?:\/\//, "DATABASE_URL must be a postgres:// address")
    .required("DATABASE_URL is not set; bin/start sets it"),
  DATABASE_OWNER_URL: string().matches(/^postgres(ql)?:\/\//, "DATABASE_OWNER_URL must be a postgres:// address"),
  /** By which browsers reach the workshop, where something stands before it. */
  PUBLIC_URL: string().matches(
    /^(https?:\/\/[^/]+\/?)?$/,
    "PUBLIC_URL must be an address such as https://workshop.example",
  ),
  /** Addresses of servers before it, whose word on where a request comes from is taken. */
  TRUSTED_PROXIES: string().default("127.0.0.1 ::1"),
  SESSION_IDLE_MINUTES: number().integer().min(1).max(1440).default(30),
  /** Who has to have a second factor: nothing else is open to them before. */
  SECOND_FACTOR: string()
    .oneOf(["", "leads", "everyone"] as const, "SECOND_FACTOR is leads or everyone")
    .default(""),
  /** The bench that this machine is, by name; the workshop's first without one. */
  BENCH: string().trim().max(40, "BENCH, a bench's name, has 40 letters at most"),
  /** How many daily copies are kept; 0: none are made. */
  COPIES: number().integer().min(0).max(400).default(14),
});

// Read when first needed: the build loads modules without any environment.
const read = () => environment.validateSync(process.env, { stripUnknown: true });

export const databaseUrl = (): string => read().DATABASE_URL;
/** Known without a database: papers are checked where there is none. */
export const dataFolder = (): string => path.resolve(process.env.FRESH_START_DATA ?? ".data");
/** Where seals are written down, if not in the data folder. */
export const witnessPath = (): string | undefined => {
  const { WITNESS_FILE: file = "" } = process.env;
  return file === "" ? undefined : path.resolve(file);
};
/** For whoever changes the schema and makes copies: the account that owns the tables; the application's own without one. */
export const ownerUrl = (): string => read().DATABASE_OWNER_URL ?? read().DATABASE_URL;
export const publicUrl = (): URL | undefined => {
  const { PUBLIC_URL: url } = read();
  return url ? new URL(url) : undefined;
};
export const trustedProxies = (): string[] =>
  read()
    .TRUSTED_PROXIES.split(/[\s,]+/)
    .filter(Boolean);
export const secureCookie = (): boolean => publicUrl()?.protocol === "https:";
export const sessionIdleMinutes = (): number => read().SESSION_IDLE_MINUTES;
export const benchName = (): string | undefined => {
  const { BENCH: name } = read();
  return name === "" ? undefined : name;
};
export const secondFactorFor = (): "" | "leads" | "everyone" => read().SECOND_FACTOR;
export const copiesKept = (): number => read().COPIES;

let secret: string | undefined;

const secretFile = () => path.join(dataFolder(), "session.secret");
const LEAST_SECRET = 32;

/** Whether the key that seals session cookies is there; one that was cut short is none. */
export function hasSessionSecret(): boolean {
  try {
    return readFileSync(secretFile(), "utf8").trim().length >= LEAST_SECRET;
  } catch {
    return false;
  }
}

/** Key that seals session cookies: made at the first start, kept in the data folder, readable by its owner only. */
export function sessionSecret(): string {
  if (secret !== undefined) return secret;
  const file = secretFile();
  mkdirSync(dataFolder(), { recursive: true });
  if (!hasSessionSecret()) rmSync(file, { force: true });
  try {
    // "wx": of two processes that start at once, one makes the file and the other reads it
    writeFileSync(file, randomBytes(36).toString("base64url"), { mode: 0o600, flag: "wx" });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
  }
  return (secret = readFileSync(file, "utf8").trim());
}
