import { execFileSync, spawnSync } from "node:child_process";
import { appendFileSync, existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import path from "node:path";
import { Client } from "pg";
import { asOwner, freshDatabase } from "../support/database";
import { closeDb, getDb } from "@/server/db";
import { addAircraft } from "@/server/repositories/fleet";
import { one, run } from "@/server/sql";
import { jsonText } from "@/server/storable";

const ROOT = path.resolve(__dirname, "../..");
/** A private cluster of the test's own, made and kept by the script that users' clusters are kept by. */
const NAME = `trial-${process.pid}`;
const FACTS = path.join(ROOT, ".data", `${NAME}.postgres`);

const script = (verb: string, name = NAME) =>
  spawnSync(path.join(ROOT, "bin/lib/postgres.sh"), [verb, name], {
    encoding: "utf8",
    env: { ...process.env, PG_FAST: "1" },
  });
function started(): string {
  const { status, stdout, stderr } = script("start");
  if (status !== 0) throw new Error(stderr);
  return stdout.trim();
}
async function ask<T>(url: string, sql: string): Promise<T[]> {
  const client = new Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query(sql)).rows as T[];
  } finally {
    await client.end();
  }
}
const kept = (url: string) => ask<{ word: string }>(url, "select word from kept");

afterAll(() => {
  execFileSync(path.join(ROOT, "bin/erase"), [NAME], { input: `erase ${NAME}\n` });
  rmSync(path.join(ROOT, ".data", `${NAME}.lock`), { force: true });
});

describe("case C79: the private cluster", () => {
  it("is made once, and found again", async () => {
    const url = started();
    await ask(url, "create table kept (word text); insert into kept values ('a backup')");
    expect(started()).toBe(url);
  });

  /** What can befall the file with the password, with the server running and stopped. */
  const DAMAGES: readonly [string, (facts: string) => string | undefined][] = [
    ["lost", () => undefined],
    ["empty", () => ""],
    ["cut in the password", (facts) => facts.slice(0, 12)],
    ["cut before the port", (facts) => facts.slice(0, facts.indexOf("PORT"))],
    ["of another cluster", () => "PASS=abcdefghijklmnopqrstuvwxyz012345\nPORT=1\n"],
    ["a program", () => "rm -rf .data; PASS=$(reboot)\n"],
    ["noise", () => "\0\u0001\uffff"],
  ];
  it.each(DAMAGES.flatMap(([what, damage]) => [true, false].map((running) => ({ what, damage, running }))))(
    "keeps everything when the password's file is $what (server running: $running)",
    async ({ damage, running }) => {
      if (!running) script("stop");
      const damaged = damage(readFileSync(FACTS, "utf8"));
      if (damaged === undefined) rmSync(FACTS);
      else writeFileSync(FACTS, damaged);
      const url = started();
      expect(await kept(url)).toEqual([{ word: "a backup" }]);
      expect(started()).toBe(url);
    },
    30_000,
  );

  it("what cannot be used is left alone and said: a folder without its first file, one of another version", async () => {
    script("stop");
    const base = script("where").stdout.trim();
    const version = path.join(base, "data/PG_VERSION");
    const made = readFileSync(version, "utf8");
    for (const [content, says] of [
      [undefined, "not a whole PostgreSQL cluster"],
      ["", "not a whole PostgreSQL cluster"],
      ["9\n", "made by PostgreSQL 9, which is not installed"],
    ] as const) {
      if (content === undefined) rmSync(version);
      else writeFileSync(version, content);
      const { status, stderr } = script("start");
      expect([status, stderr.includes(says), stderr.includes("left as it is")]).toEqual([1, true, true]);
      expect(existsSync(path.join(base, "data/global"))).toBe(true);
    }
    writeFileSync(version, made);
    expect(await kept(started())).toEqual([{ word: "a backup" }]);
  }, 30_000);

  it("whose journal of writes is damaged is not started and not touched; what is shown is this failure, and no earlier one", async () => {
    script("stop");
    const base = script("where").stdout.trim();
    const log = path.join(base, "postgres.log");
    appendFileSync(log, "FATAL: something of last year\n");
    const journal = path.join(base, "data/pg_wal");
    const control = path.join(base, "data/global/pg_control");
    const segments = readdirSync(journal).filter((name) => /^[0-9A-F]{24}$/.test(name));
    for (const file of [...segments.map((name) => path.join(journal, name)), control]) {
      const made = readFileSync(file);
      writeFileSync(file, Buffer.alloc(made.length));
      const last = file === control || file.endsWith(segments.at(-1) ?? "-");
      const { status, stderr } = script("start");
      // an older segment is not needed after a clean stop
      if (status === 0) script("stop");
      else {
        expect(stderr).toMatch(/FATAL|PANIC|could not/);
        expect(stderr).toContain("left as it is");
        expect(stderr).not.toContain("last year");
      }
      if (file === control || segments.length === 1) expect([last, status]).toEqual([true, 1]);
      expect(readFileSync(file).length).toBe(made.length);
      writeFileSync(file, made);
    }
    expect(await kept(started())).toEqual([{ word: "a backup" }]);
  }, 60_000);

  it("is deleted by a command of its own that names what it deletes, and only when asked by its name", () => {
    const erase = (answer: string) =>
      spawnSync(path.join(ROOT, "bin/erase"), [NAME], { input: answer, encoding: "utf8" });
    const asked = erase("yes\n");
    expect([
      asked.status,
      asked.stdout.includes(`postgres-${NAME}`) || asked.stdout.includes(`fresh-start-${NAME}`),
    ]).toEqual([1, true]);
    expect(erase("").status).toBe(1);
    expect(script("holds").status).toBe(0);
    expect(script("destroy").status).toBe(2);
  });
});

describe("seeding the demo", () => {
  const seed = () =>
    spawnSync("node", ["--import", "tsx", "demo/seed.ts"], { cwd: ROOT, encoding: "utf8", env: process.env });

  afterAll(closeDb);

  it("touches nothing in a database that holds anything, if only one aircraft and no account", async () => {
    await freshDatabase("seeding");
    await addAircraft({ tag: "QW-77", label: "kept", type: "Sedge" });
    const { status, stderr } = seed();
    expect([status, stderr]).toEqual([1, expect.stringContaining("It holds 1 aircraft; nothing of it was touched")]);
    expect(await getDb().Aircraft.count()).toBe(1);
    expect(await getDb().CatalogueDocumentRow.count()).toBe(0);
  }, 30_000);

  it("line noise can be stored: a NUL, half a character, in values and in names", async () => {
    const noise = { "say\0": "heddle\0 22 \ud800", list: ["\udc00x"], deep: { at: "a\\u0000b" } };
    await asOwner("create table noise (j jsonb, t text); grant select, insert on noise to fresh_start_app");
    await run("insert into noise values ($1, $2)", [jsonText(noise), "NUL \0 here"]);
    expect(await one("select j, t from noise")).toEqual({
      j: { "say␀": "heddle␀ 22 �", list: ["�x"], deep: { at: "a\\u0000b" } },
      t: "NUL ␀ here",
    });
  });
});
