const { Client } = require("pg");
const os = require("node:os");
const path = require("node:path");

/** A database of its own for the integration tests, made anew at each run. */
module.exports = async () => {
  const base = process.env.TEST_DATABASE_URL ?? process.env.DATABASE_URL;
  if (!base) throw new Error("TEST_DATABASE_URL is not set: run these tests with bin/test integration");
  const client = new Client({ connectionString: base });
  await client.connect();
  await client.query("drop database if exists fresh_start_integration with (force)");
  await client.query("create database fresh_start_integration");
  await client.end();
  const url = new URL(base);
  url.pathname = "/fresh_start_integration";
  process.env.DATABASE_URL = url.toString();
  process.env.FRESH_START_DATA = path.join(os.tmpdir(), `fresh-start-integration-${process.pid}`);
};
