import { execFileSync, spawn } from "node:child_process";
import { mkdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { addressOf, emptyDatabase, type Cluster } from "./database";

interface Wanted {
  readonly database: string;
  readonly data: string;
  readonly port: number;
  readonly words?: readonly string[];
  /** On what is there already, instead of an empty database. */
  readonly again?: boolean;
  /** In which cluster the database is. */
  readonly cluster?: Cluster;
  readonly env?: Readonly<Record<string, string>>;
}

/** A product that runs: what it said until it was ready, and the way to end it. */
export interface Product {
  /** Everything so far. */
  readonly said: () => string;
  readonly stop: () => Promise<void>;
}

const accounts = (database: string, data: string, cluster: Cluster) => ({
  DATABASE_URL: addressOf(database, "app", cluster),
  DATABASE_OWNER_URL: addressOf(database, "owner", cluster),
  FRESH_START_DATA: data,
});

/** What `bin/start` tells its processes of what was read before. */
export const readBefore = (data: string) => ({
  DOCUMENTS_READ: path.join(data, "documents.read"),
  BUILD: readFileSync(path.resolve(".data/build.stamp"), "utf8"),
});

/** Fills an empty database with the demo's workshop, as the product's first start does. */
export async function seedWorkshop(database: string, data: string): Promise<void> {
  await emptyDatabase(database);
  mkdirSync(data, { recursive: true });
  const env = { ...process.env, ...accounts(database, data, "test"), ...readBefore(data) };
  for (const source of ["src/server/admin/migrate", "demo/seed"])
    execFileSync(process.execPath, [path.resolve(`.next/processes/${source}.js`)], {
      env,
      stdio: ["ignore", "ignore", "inherit"],
    });
}

/** Starts the product by its own command on an empty database. */
export async function startProduct({
  database,
  data,
  port,
  words = [],
  again = false,
  cluster = "test",
  env = {},
}: Wanted): Promise<Product> {
  if (!again) await emptyDatabase(database, undefined, cluster);
  // what is there already is not seeded again
  const mode = again ? ["--empty"] : [];
  const child = spawn(path.resolve("bin/start"), ["--port", String(port), ...mode, ...words], {
    env: {
      ...process.env,
      ...accounts(database, data, cluster),
      // made when they are asked for, not in the middle of another test
      COPIES: "0",
      ...env,
    },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let said = "";
  await new Promise<void>((resolve, reject) => {
    const hear = (bytes: Buffer) => {
      said += bytes.toString();
      if (said.includes("Fresh Start is at") && said.includes("The bench is ready")) resolve();
    };
    child.stdout.on("data", hear);
    child.stderr.on("data", hear);
    child.once("exit", () => reject(new Error(`bin/start ended:\n${said}`)));
    setTimeout(() => reject(new Error(`bin/start was not ready after two minutes:\n${said}`)), 120_000).unref();
  });
  return {
    said: () => said,
    stop: async () => {
      const ended = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      await ended;
    },
  };
}
