import { giveBoard } from "@/server/repositories/boards";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { ProblemError } from "@/core/problem";
import { execFileSync } from "node:child_process";
import os from "node:os";
import path from "node:path";
import { Client } from "pg";
import { closeDb } from "@/server/db";
import { migrate } from "@/server/migrate";

/** An empty database, made anew, or one like another that nobody is in; gives its name. */
export async function emptyDatabase(database: string, like?: string, cluster: Cluster = "test"): Promise<string> {
  const client = new Client({ connectionString: clusterAddress(cluster, "keeper") });
  await client.connect();
  await client.query(`drop database if exists ${database} with (force)`);
  await client.query(`create database ${database} owner fresh_start_owner ${like ? `template ${like}` : ""}`);
  await client.end();
  return database;
}

export async function databaseIsThere(database: string): Promise<boolean> {
  const client = new Client({ connectionString: clusterAddress("test", "keeper") });
  await client.connect();
  const { rowCount } = await client.query("select 1 from pg_database where datname = $1", [database]);
  await client.end();
  return rowCount === 1;
}

/** Clusters that tests have: all of them one, and one that is taken away while the others go on. */
export type Cluster = "test" | "away";

/** Starts or stops a cluster of the tests, as the product's own does. */
export function setCluster(verb: "start" | "stop", cluster: Cluster): void {
  const env = { ...process.env, PG_FAST: "1" };
  execFileSync(path.resolve("bin/lib/postgres.sh"), [verb, cluster], { env, stdio: ["ignore", "ignore", "inherit"] });
}

function clusterAddress(cluster: Cluster, account: "keeper" | "app" | "owner"): string {
  const script = path.resolve("bin/lib/postgres.sh");
  const address = execFileSync(script, ["address", cluster, account], { encoding: "utf8" }).trim();
  if (address.includes(":@")) throw new Error(`There is no cluster “${cluster}”: run these tests with bin/test`);
  return address;
}

/** From here on the program works on this database, under the accounts that it has in a workshop. */
export async function workOn(database: string): Promise<void> {
  await closeDb();
  process.env.DATABASE_URL = addressOf(database, "app");
  process.env.DATABASE_OWNER_URL = addressOf(database, "owner");
}

/** A database of its own for one test file, made anew, with the schema in it. */
export async function freshDatabase(name: string): Promise<void> {
  await workOn(await emptyDatabase(`fresh_start_${name}`));
  process.env.FRESH_START_DATA = path.join(os.tmpdir(), `fresh-start-${name}-${process.pid}`);
  await migrate();
}

/** The address of a database of the tests for one of its accounts: as the application runs, or as the tables' owner. */
export function addressOf(database: string, account: "app" | "owner", cluster: Cluster = "test"): string {
  const url = new URL(clusterAddress(cluster, account));
  url.pathname = `/${database}`;
  return url.toString();
}

/** Does what only the owner of the tables can do. */
export async function asOwner(sql: string, bind: unknown[] = []): Promise<void> {
  const client = new Client({ connectionString: process.env.DATABASE_OWNER_URL });
  await client.connect();
  try {
    await client.query(sql, bind);
  } finally {
    await client.end();
  }
}

/** `ok`, or the code of the problem that the work ended with. */
export async function codeOf(work: Promise<unknown>): Promise<string> {
  try {
    await work;
    return "ok";
  } catch (error) {
    return error instanceof ProblemError ? error.problem.code : String(error);
  }
}

/** Gives an aircraft of the test a board of the model that most tests use. */
export const giveSlate = async (tag: string, chipId: string): Promise<void> =>
  giveBoard(
    {
      chipId,
      modelId: "corsley-slate",
      target: "CSLATE-B",
      releaseId: "heddle-22",
      tag,
      account: "lead",
      replace: false,
    },
    await loadCatalogue(),
  );
