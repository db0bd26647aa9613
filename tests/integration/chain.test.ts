import { verifyChain, type ChainFault, type Witness } from "@/server/chain";
import { closeDb } from "@/server/db";
import { lookAtChain, lastKeeping, scrubStep, NEW_ROUND, knownDamage, keepingTrouble } from "@/server/keeping";
import { ensureBench, takeFence } from "@/server/repositories/bench";
import { putBlob } from "@/server/repositories/blobs";
import { addAircraft } from "@/server/repositories/fleet";
import { groundAircraft } from "@/server/repositories/groundings";
import { appendEntry } from "@/server/repositories/journal";
import { toZip } from "@/server/repositories/exports";
import { one, rows, run } from "@/server/sql";
import { readWitnesses } from "@/server/witness";
import { strFromU8, unzipSync } from "fflate";
import { asOwner, freshDatabase } from "../support/database";

let benchId = 0;
let fence = "";
let jobId = 0;
let aircraftId = 0;

beforeAll(async () => {
  await freshDatabase("chain");
  benchId = await ensureBench();
  fence = await takeFence(benchId);
  aircraftId = await addAircraft({ tag: "QW-77", label: "", type: "Sedge" });
  const row = await one<{ id: number }>(
    "insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, ordered_by) values ($1, 6, $2, 'x', '{}', '[]', 'technician') returning id",
    [benchId, aircraftId],
  );
  jobId = row?.id ?? 0;
  for (const text of ["one", "two", "three", "four", "five"]) await note(text);
  for (const name of ["first", "second"]) await backup(name);
  await groundAircraft("QW-77", "a bent arm", "technician");
});
afterAll(closeDb);

const note = (text: string) =>
  appendEntry({ benchId, fence, jobId, bayNo: 6, account: null, entry: { kind: "noted", step: "flash", text } });
async function backup(name: string): Promise<string> {
  const sha = await putBlob(new TextEncoder().encode(`read-out ${name}\n`));
  await run(
    "insert into backups (aircraft_id, sha256, source, name, verdict, taken_by) values ($1, $2, 'file', $3, 'complete', 'technician')",
    [aircraftId, sha, name],
  );
  return sha;
}

/** Does something to the database that only its owner could, with all guards switched off, and undoes it afterwards. */
async function tampered(sql: string, undo: string): Promise<Set<ChainFault["kind"]>> {
  const off = (tables: string[], how: string) =>
    tables.map((table) => `alter table ${table} ${how} trigger all;`).join(" ");
  const tables = ["journal", "backups", "groundings", "jobs"];
  // "all" wants a superuser because of foreign keys; the owner's own triggers are enough
  const own = (how: string) => off(tables, how).replaceAll("trigger all", "trigger user");
  await asOwner(`${own("disable")} ${sql}; ${own("enable")}`);
  const { faults } = await verifyChain();
  await asOwner(`${own("disable")} ${undo}; ${own("enable")}`);
  return new Set(faults.map(({ kind }) => kind));
}

/** Takes the last seals out again, as the owner of the tables could. */
const cutSeals = (count: number) =>
  asOwner(`
    alter table seals disable trigger user; alter table seal_head disable trigger user;
    delete from seals where no > (select no from seal_head) - ${count};
    update seal_head set (no, sha256) = (select no, sha256 from seals order by no desc limit 1);
    alter table seals enable trigger user; alter table seal_head enable trigger user`);

describe("the chain", () => {
  it("is whole after ordinary work, and has a seal for everything that is kept for good", async () => {
    const { faults, seals } = await verifyChain();
    expect(faults).toEqual([]);
    const kinds = await rows<{ kind: string; n: number }>(
      "select kind, count(*)::int as n from seals group by kind order by kind",
    );
    expect(kinds).toEqual([
      { kind: "aircraft-is", n: 1 },
      { kind: "backups", n: 2 },
      { kind: "chain", n: 2 },
      { kind: "groundings", n: expect.any(Number) as number },
      { kind: "jobs", n: 1 },
      { kind: "journal", n: 5 },
    ]);
    expect(seals).toBe(kinds.reduce((sum, { n }) => sum + n, 0));
  });

  it.each([
    [
      "an entry rewritten",
      `update journal set entry = entry || '{"text":"nothing"}' where no = 2`,
      `update journal set entry = entry || '{"text":"two"}' where no = 2`,
      "changed",
    ],
    [
      "the name under an entry",
      "update journal set account = 'lead' where no = 3",
      "update journal set account = null where no = 3",
      "changed",
    ],
    [
      "when it was",
      "update journal set at = at - interval '1 day' where no = 4",
      "update journal set at = at + interval '1 day' where no = 4",
      "changed",
    ],
    [
      "an entry removed",
      "create table kept_aside as select * from journal where no = 3; delete from journal where no = 3",
      "insert into journal select * from kept_aside; drop table kept_aside",
      "removed",
    ],
    [
      "a backup given to another's name",
      "update backups set taken_by = 'lead' where name = 'first'",
      "update backups set taken_by = 'technician' where name = 'first'",
      "changed",
    ],
    [
      "a reason put in past the chain",
      "insert into groundings (aircraft_id, cause, reason, account) select id, 'person', 'forged', 'lead' from aircraft",
      "delete from groundings where reason = 'forged'",
      "unsealed",
    ],
    ["what a job was for", `update jobs set goal = '{"kind":"other"}'`, "update jobs set goal = '{}'", "changed"],
  ])("finds %s", async (_, sql, undo, kind) => {
    expect([...(await tampered(sql, undo))]).toContain(kind);
    expect((await verifyChain()).faults).toEqual([]);
  });

  it("finds an entry that says it is of another day, though it was put in by the ordinary way", async () => {
    await run(
      "insert into journal (bench_id, no, at, job_id, entry) values ($1, 900, now() - interval '2 days', $2, '{\"kind\":\"finished\"}')",
      [benchId, jobId],
    );
    expect((await verifyChain()).faults).toMatchObject([{ kind: "back-dated" }]);
    await asOwner(
      "alter table journal disable trigger user; delete from journal where no = 900; alter table journal enable trigger user",
    );
    await cutSeals(1);
    expect((await verifyChain()).faults).toEqual([]);
  });

  it("a clock that was set back is sealed as that, by the database; without it what goes back in time was back-dated", async () => {
    const entry = (no: number) =>
      run('insert into journal (bench_id, no, at, job_id, entry) values ($1, $2, now(), $3, \'{"kind":"moved"}\')', [
        benchId,
        no,
        jobId,
      ]);
    const ahead = (hours: number) =>
      asOwner(
        `select seal_next('chain', 'ahead by ${hours}', repeat('0', 64), clock_timestamp() + interval '${hours} hours')`,
      );
    await ahead(26);
    expect(await keepingTrouble(Date.now())).toMatch(/clock stands before the newest entry/);
    await entry(910);
    const found = await verifyChain();
    expect(found.faults).toEqual([]);
    expect(found.notes).toEqual([
      expect.stringMatching(/^Before seal \d+ the machine’s clock was set back, from .* to /),
    ]);
    expect(await keepingTrouble(Date.now())).toBeUndefined();
    // once for each time that it was
    await entry(911);
    expect((await verifyChain()).notes).toHaveLength(1);
    await ahead(1);
    // what is written as set back, and was not, or by other times
    for (const key of [
      "clock set back",
      "clock set back from 2026-01-01T00:00:00.000000Z to 2025-01-01T00:00:00.000000Z",
    ])
      await asOwner(`select seal_next('chain', '${key}', repeat('0', 64), clock_timestamp())`);
    expect((await verifyChain()).faults.map(({ kind }) => kind)).toEqual(["back-dated", "back-dated"]);
    await cutSeals(3);
    // the application may not seal by itself
    await expect(run("select seal_next('chain', 'x', repeat('0', 64), now())")).rejects.toThrow(/permission|denied/);
  });

  it("its end cannot be cut off, nor all of it made anew, without what was written down outside telling", async () => {
    expect((await lookAtChain()).faults).toEqual([]);
    const witnesses: Witness[] = readWitnesses();
    expect(witnesses).toHaveLength(1);
    const { no, sha256 } = witnesses[0] ?? { no: 0, sha256: "" };
    const found = async (told: Witness[]) => (await verifyChain(told)).faults.map(({ kind }) => kind);
    expect(await found(witnesses)).toEqual([]);
    expect(await found([{ no: no + 5, sha256 }])).toEqual(["witness"]);
    expect(await found([{ no: no - 1, sha256 }])).toEqual(["witness"]);
  });

  it("the account that the application runs under can neither seal by hand nor switch a guard off, nor drop or run anything", async () => {
    for (const sql of [
      "insert into seals values (999, 'journal', '1/1', now(), repeat('0', 64), repeat('0', 64), repeat('0', 64))",
      "update seal_head set no = 0",
      "select seal('journal', '1/1', '{}')",
      "alter table journal disable trigger user",
      "drop table journal",
      "truncate journal",
      "delete from backups",
      "update backups set name = 'x'",
      "update catalogue_documents set text = ''",
      "update images set target = ''",
      "delete from jobs",
      "delete from orders",
      "update jobs set goal = '{}', ordered_by = 'lead'",
      "create table mine (x int)",
      "create function f() returns int language sql as 'select 1'",
      "copy aircraft to program 'true'",
      "set session_replication_role = replica",
      "alter role current_user superuser",
    ])
      expect([
        sql,
        await run(sql).then(
          () => "done",
          () => "refused",
        ),
      ]).toEqual([sql, "refused"]);
  });

  it("holds while many write at the same time", async () => {
    await Promise.all(
      Array.from({ length: 40 }, (_, i) => (i % 2 === 0 ? note(`n${i}`) : backup(`b${i}`)) as Promise<unknown>),
    );
    expect((await verifyChain()).faults).toEqual([]);
  });
});

describe("a stored file that is damaged", () => {
  it("is found by the round, named where it is used, and keeps nothing else from being had", async () => {
    const sha = await backup("spoilt");
    await asOwner(
      `alter table blobs disable trigger user; update blobs set bytes = 'another' where sha256 = '${sha}'; alter table blobs enable trigger user`,
    );
    const scrub = async () => {
      let round = await scrubStep(NEW_ROUND);
      while (round.after !== "") round = await scrubStep(round);
    };
    await scrub();
    expect(await knownDamage()).toMatchObject([{ sha256: sha, name: "spoilt" }]);
    expect((await lastKeeping()).bytes?.good).toBe(false);
    expect(await keepingTrouble(Date.now())).toBe("Stored files are damaged.");
    const archive = unzipSync(await toZip("QW-77"));
    expect(Object.keys(archive).filter((name) => name.startsWith("spoilt"))).toEqual([]);
    expect(Object.keys(archive).length).toBeGreaterThan(20);
    expect(strFromU8(archive["list.csv"] ?? new Uint8Array())).toContain("damaged; not in here");
    await asOwner(
      `alter table blobs disable trigger user; update blobs set bytes = 'read-out spoilt\n' where sha256 = '${sha}'; alter table blobs enable trigger user`,
    );
    await scrub();
    expect([await knownDamage(), (await lastKeeping()).bytes?.good]).toEqual([[], true]);
  });
});
