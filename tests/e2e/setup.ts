import { spawn } from "node:child_process";
import { rmSync } from "node:fs";
import path from "node:path";
import { Client } from "pg";
import { DATA_FOLDER, PORT } from "./app";

/** Starts the whole product as a user would, on a database and a data folder of its own; gives the way to end it. */
export default async function setup(): Promise<() => Promise<void>> {
  const base = process.env.TEST_DATABASE_URL;
  if (!base) throw new Error("TEST_DATABASE_URL is not set: run these tests with bin/test e2e");
  const client = new Client({ connectionString: base });
  await client.connect();
  await client.query("drop database if exists fresh_start_e2e with (force)");
  await client.query("create database fresh_start_e2e");
  await client.end();
  const url = new URL(base);
  url.pathname = "/fresh_start_e2e";
  rmSync(DATA_FOLDER, { recursive: true, force: true });
  const child = spawn(path.resolve("bin/start"), ["--port", String(PORT)], {
    env: { ...process.env, DATABASE_URL: url.toString(), FRESH_START_DATA: DATA_FOLDER },
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
  return async () => {
    const ended = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGTERM");
    await ended;
  };
}
