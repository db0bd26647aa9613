import { spawnSync } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { Client } from "pg";
import { migrate } from "@/server/migrate";
import { verifyChain } from "@/server/chain";
import { closeDb } from "@/server/db";
import { getBlob, putBlob } from "@/server/repositories/blobs";
import { addAircraft, aircraftByTag } from "@/server/repositories/fleet";
import { rows, run } from "@/server/sql";
import { addressOf, asOwner, emptyDatabase, workOn, codeOf, freshDatabase } from "../support/database";

const folder = mkdtempSync(path.join(os.tmpdir(), "fresh-start-backup-"));
const at = (name: string) => path.join(folder, name);

/** Runs a command as a keeper would, on this database. */
function keeper(command: "backup" | "restore", file: string, url = process.env.DATABASE_OWNER_URL) {
  const done = spawnSync(path.resolve("bin", command), [file], {
    encoding: "utf8",
    env: { ...process.env, DATABASE_OWNER_URL: url },
  });
  return { status: done.status, says: done.stdout + done.stderr, pid: done.pid };
}

/** An empty database beside the test's own; gives the address of its owner. */
const emptyBeside = async (name: string) => addressOf(await emptyDatabase(name), "owner");

/** Does something on another database than the test's own. */
async function on<T>(name: string, work: () => Promise<T>): Promise<T> {
  await workOn(name);
  try {
    return await work();
  } finally {
    await workOn("fresh_start_backup");
  }
}

/** Databases that a copy left behind in which it was read back; other tests make copies at the same time. */
const leftBy = (pid: number) =>
  rows<{ datname: string }>("select datname from pg_database where datname = $1", [`fresh_start_check_${pid}`]);

let blob = "";
beforeAll(async () => {
  await freshDatabase("backup");
  await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  blob = await putBlob(new TextEncoder().encode("a read-out\n"));
});
afterAll(async () => {
  await closeDb();
  rmSync(folder, { recursive: true });
});

describe("a copy of the whole workshop", () => {
  it("is one file, read back and held against its hashes before it is kept; nothing else is left behind", async () => {
    const { status, says, pid } = keeper("backup", at("one"));
    expect([status, says]).toEqual([0, says]);
    expect(says).toMatch(/read back: 1 aircraft, 0 backups, 0 jobs, .*1 papers held against their hashes/);
    expect([await leftBy(pid), says]).toEqual([[], says]);
    expect(keeper("backup", at("one"))).toMatchObject({
      status: 1,
      says: expect.stringContaining("is there already") as string,
    });
  });

  it("comes back whole into an empty database, and into no other", async () => {
    const before = readFileSync(at("one"));
    expect(keeper("restore", at("one"))).toMatchObject({
      status: 1,
      says: expect.stringContaining("holds a workshop already") as string,
    });
    const url = await emptyBeside("fresh_start_backup_in");
    expect(keeper("restore", at("one"), url)).toMatchObject({ status: 0 });
    await on("fresh_start_backup_in", async () => {
      // the program takes it as its own, and it is guarded as before
      expect(await migrate()).toEqual([]);
      expect((await aircraftByTag("QW-01"))?.label).toBe("North fen");
      expect(new TextDecoder().decode(await getBlob(blob))).toBe("a read-out\n");
      await expect(run("delete from blobs")).rejects.toThrow();
      await expect(asOwner("delete from blobs")).rejects.toThrow("append-only");
      expect((await verifyChain()).faults).toEqual([]);
    });
    expect(readFileSync(at("one")).equals(before)).toBe(true);
  });

  it("a file that is cut or damaged is taken not at all", async () => {
    const whole = readFileSync(at("one"));
    const url = await emptyBeside("fresh_start_backup_cut");
    const held = async () => {
      const client = new Client({ connectionString: url });
      await client.connect();
      const found = await client.query(
        "select count(*)::int as n from information_schema.tables where table_schema = 'public'",
      );
      await client.end();
      return (found.rows[0] as { n: number }).n;
    };
    for (const [name, bytes] of [
      ["cut", whole.subarray(0, whole.length - 900)],
      ["half", whole.subarray(0, Math.floor(whole.length / 2))],
      ["nothing", new Uint8Array()],
      ["other", Buffer.from("no archive at all")],
    ] as const) {
      writeFileSync(at(name), bytes);
      expect([name, keeper("restore", at(name), url).status, await held()]).toEqual([name, 1, 0]);
    }
  });

  it("says which of it is damaged, and keeps no copy that would hide it", async () => {
    await asOwner("alter table blobs disable trigger blobs_stay");
    await asOwner("update blobs set bytes = 'another' where sha256 = $1", [blob]);
    await asOwner("alter table blobs enable trigger blobs_stay");
    const { status, says, pid } = keeper("backup", at("two"));
    expect([status, existsSync(at("two"))]).toEqual([1, false]);
    expect(says).toContain(`damaged: ${blob}, a paper of a job`);
    expect(await leftBy(pid)).toEqual([]);
  });
});

describe("the schema", () => {
  it("is brought up to date by one process at a time", async () => {
    await emptyBeside("fresh_start_backup_race");
    const done = await on("fresh_start_backup_race", () => Promise.all([migrate(), migrate(), migrate()]));
    expect(
      done
        .map((names) => names.length)
        .toSorted((a, b) => a - b)
        .slice(0, 2),
    ).toEqual([0, 0]);
    expect(done.flat()).toHaveLength(new Set(done.flat()).size);
  });

  it("of a later version is refused, and left as it is", async () => {
    await asOwner(`insert into "SequelizeMeta" (name) values ('0999-of-tomorrow')`);
    expect(await codeOf(migrate())).toBe("schema-newer");
    await asOwner(`delete from "SequelizeMeta" where name = '0999-of-tomorrow'`);
    expect(await codeOf(migrate())).toBe("ok");
  });
});
