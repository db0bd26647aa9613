import { verifyChain } from "@/server/chain";
import { KINDS } from "@/server/chain-kinds";
import { addAccount } from "@/server/accounts";
import { closeDb } from "@/server/db";
import { noteKeeping } from "@/server/keeping";
import { fileBackup } from "@/server/repositories/backups";
import { ensureBench, takeFence } from "@/server/repositories/bench";
import { putJson } from "@/server/repositories/blobs";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft } from "@/server/repositories/fleet";
import { groundAircraft } from "@/server/repositories/groundings";
import { appendEntry } from "@/server/repositories/journal";
import { makeStandard } from "@/server/repositories/standards";
import { ensureStatement } from "@/server/repositories/visit-statements";
import { ensureSigningKey } from "@/server/signing";
import { inTransaction, one, rows, run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { asOwner, freshDatabase, giveSlate } from "../support/database";
import { CHIP, imageFile, slateReadout } from "../support/workshop";

const TABLES = [...new Set(Object.values(KINDS).flatMap((of) => (of ? [of.table] : [])))];

/** A little of everything that is sealed, made by the ordinary ways where there is one. */
beforeAll(async () => {
  await freshDatabase("tampering");
  const benchId = await ensureBench();
  await ensureSigningKey();
  await importDocuments(
    demoDocuments().map(({ text }) => text),
    "lead",
  );
  await importImage(imageFile("heddle-23", "CSLATE-B"), "lead");
  await addAccount({ name: "lead", role: "lead", person: "Reed Warden" });
  const aircraftId = await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  await giveSlate("QW-01", CHIP);
  const fence = await takeFence(benchId);
  const made = await one<{ id: number }>(
    "insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, ordered_by) values ($1, 1, $2, 'x', '{\"kind\":\"update\"}', '[]', 'lead') returning id",
    [benchId, aircraftId],
  );
  const jobId = made?.id ?? 0;
  const paperSha = await inTransaction((transaction) => putJson({ what: "plan" }, transaction));
  for (const entry of [
    { kind: "ordered", headline: "Update" },
    { kind: "done", step: "plan", evidence: "taken", data: { planSha: paperSha, scriptSha: paperSha } },
    { kind: "signed", statement: "It flies" },
    { kind: "finished" },
  ] as const)
    await appendEntry({ benchId, fence, jobId, bayNo: 1, account: "lead", entry });
  await run("update jobs set state = 'finished', headline = 'Update', ended_at = now() where id = $1", [jobId]);
  await ensureStatement(jobId);
  const backup = await fileBackup({
    ...{ raw: slateReadout(), tag: "QW-01", aircraftId, jobId, chipId: CHIP, source: "job", account: "lead" },
    at: new Date().toISOString(),
  });
  await makeStandard("Sedge", backup.id, "As flown", "lead");
  await run("insert into backup_notes (backup_id, kind, text, account) values ($1, 'note', 'Seen', 'lead')", [
    backup.id,
  ]);
  await groundAircraft("QW-01", "a bent arm", "lead");
  await run("update groundings set lifted_by = 'lead', lifted_at = now() where lifted_at is null");
  await run(
    "insert into campaigns (type, title, goal, made_by) values ('Sedge', 'All to 23', '{\"kind\":\"update\"}', 'lead')",
  );
  await run("update campaigns set state = 'paused', state_reason = 'Rain', changed_by = 'lead', changed_at = now()");
  await run("insert into campaign_members (campaign_id, aircraft_id, place) select c.id, $1, 1 from campaigns c", [
    aircraftId,
  ]);
  await run(
    "insert into campaign_decisions (campaign_id, key, choice_id, account) select id, 'k', 'keep', 'lead' from campaigns",
  );
  await run(
    "insert into allowances (type, kind, name, reason, made_by) values ('Sedge', 'area', 'lights', 'By night', 'lead')",
  );
  await run("update allowances set ended_by = 'lead', ended_at = now()");
  await run(
    "insert into fittings (aircraft_id, part, mount, account) select id, 'pump', '{}', 'lead' from aircraft limit 1",
  );
  await run(
    "insert into document_standings (kind, document_id, used, reason, account) values ('release', 'heddle-24', false, 'Recalled', 'lead')",
  );
  await run(
    "insert into document_origins (catalogue_document_id, pack_sha256, family, made_at, made_by, version_there, account) select min(id), repeat('a', 64), 'Heddle', now(), 'lead', 1, 'lead' from catalogue_documents",
  );
  await run(
    "insert into read_as (sha256, release_id, extent, account) select sha256, 'heddle-22', 'all', 'lead' from backups",
  );
  await noteKeeping("copy", true, "A copy was made");
  await run("insert into sign_ins (who, address, browser, outcome) values (repeat('a', 32), '127.0.0.1', 'x', 'in')");
}, 120_000);
afterAll(closeDb);

/** Another value of a column's type, as SQL over the old one. */
const OTHER: Readonly<Partial<Record<string, string>>> = {
  integer: "(coalesce(%, 0) + 1)",
  bigint: "(coalesce(%, 0) + 1)",
  text: "(coalesce(%, '') || 'x')",
  character: "translate(coalesce(%, repeat('a', 64)), '0123456789abcdef', '123456789abcdef0')",
  boolean: "(not coalesce(%, false))",
  jsonb: `case jsonb_typeof(coalesce(%, '{}')) when 'array' then coalesce(%, '[]') || '[1]' else coalesce(%, '{}') || '{"x":1}' end`,
  "timestamp with time zone": "(coalesce(%, now()) - interval '1 day')",
};

/** Does what only the owner of the tables can, guards switched off; false where the database itself refuses it. */
async function owner(table: string, sql: string): Promise<boolean> {
  const around = (how: string) => `alter table ${table} ${how} trigger user`;
  try {
    await asOwner(`begin; ${around("disable")}; ${sql}; ${around("enable")}; commit`);
    return true;
  } catch {
    return false;
  }
}

async function columnsOf(table: string): Promise<{ name: string; type: string }[]> {
  return rows(
    "select column_name as name, data_type as type from information_schema.columns where table_schema = 'public' and table_name = $1 order by ordinal_position",
    [table],
  );
}

const says = async () => (await verifyChain()).faults.map(({ says: text }) => text);

describe("whatever the owner of the tables changes past the chain is named", () => {
  it("nothing is, where nothing was", async () => {
    expect(await says()).toEqual([]);
    for (const table of TABLES) {
      const held = await one<{ n: number }>(`select count(*)::int as n from ${table}`);
      expect([table, (held?.n ?? 0) > 0]).toEqual([table, true]);
    }
  });

  it.each(TABLES)("%s: each column of a row, a row taken out, a row doubled", async (table) => {
    const free = new Set(
      Object.values(KINDS)
        .filter((of) => of?.table === table)
        .map((of) => of?.free ?? [])
        .reduce((common, each) => common.filter((name) => each.includes(name))),
    );
    const unseen: string[] = [];
    let tried = 0;
    const attempt = async (what: string, sql: string, undo: string) => {
      if (!(await owner(table, sql))) return;
      tried++;
      if ((await says()).length === 0) unseen.push(what);
      expect(await owner(table, undo)).toBe(true);
    };
    await asOwner(
      `drop table if exists kept_aside; create table kept_aside as select ctid as kept_place, t.* from ${table} t limit 1`,
    );
    for (const { name, type } of await columnsOf(table)) {
      const other = OTHER[type]?.replaceAll("%", name);
      if (other === undefined || free.has(name)) continue;
      const set = (value: string) =>
        `with u as (update ${table} set ${name} = ${value} where ctid = (select kept_place from kept_aside) returning ctid) update kept_aside set kept_place = (select ctid from u)`;
      await attempt(`${table}.${name}`, set(other), set(`(select ${name} from kept_aside)`));
    }
    const names = (await columnsOf(table)).map(({ name }) => name).join(", ");
    await attempt(
      `${table}: taken out`,
      `delete from ${table} where ctid = (select kept_place from kept_aside)`,
      `with u as (insert into ${table} (${names}) select ${names} from kept_aside returning ctid) update kept_aside set kept_place = (select ctid from u)`,
    );
    expect(unseen).toEqual([]);
    expect(await says()).toEqual([]);
    // a table whose rows others point at may refuse to let any go, never every change
    expect(tried).toBeGreaterThan(1);
  });

  it("the database's own function for the text of a seal, made otherwise, changes nothing: it is not asked", async () => {
    const other = (body: string) =>
      asOwner(
        `create or replace function seal_text(kept jsonb) returns text language sql stable set timezone to 'UTC' as $$ ${body} $$`,
      );
    await owner("journal", `update journal set account = 'nobody' where no = 1`);
    await other('select jsonb_strip_nulls(kept || \'{"account":"lead"}\')::text');
    expect((await says()).join()).toContain("journal 1/1 was rewritten");
    await other("select jsonb_strip_nulls(kept)::text");
    await owner("journal", `update journal set account = 'lead' where no = 1`);
    expect(await says()).toEqual([]);
  });

  it.each(["abc", "99999999999", "", "1/2/3", "-1", "1e9", " 1"])(
    "a seal whose key is “%s” is the finding, and everything else is looked at all the same",
    async (key) => {
      const seal = await one<{ no: string; key: string }>("select no, key from seals where kind = 'backups' limit 1");
      await owner("seals", `update seals set key = '${key}' where no = ${seal?.no ?? 0}`);
      await owner("journal", "update journal set account = 'nobody' where no = 2");
      const found = (await says()).join("; ");
      expect(found).toContain(`Seal ${seal?.no ?? ""} (backups ${key}) does not follow`);
      expect(found).toContain("journal 1/2 was rewritten");
      await owner("journal", "update journal set account = 'lead' where no = 2");
      await owner("seals", `update seals set key = '${seal?.key ?? ""}' where no = ${seal?.no ?? 0}`);
      expect(await says()).toEqual([]);
    },
  );

  it("the head, seals set back or put in, sizes of stored bytes, bytes that are gone, empty fields: named, each", async () => {
    const head = await one<{ no: string; sha256: string }>("select no, sha256 from seal_head");
    for (const [table, sql, undo, told] of [
      ["seal_head", "update seal_head set no = no + 5", `update seal_head set no = ${head?.no ?? ""}`, "last"],
      [
        "seal_head",
        "update seal_head set sha256 = repeat('f', 64)",
        `update seal_head set sha256 = '${head?.sha256 ?? ""}'`,
        "last",
      ],
      [
        "seals",
        "update seals set at = at - interval '3 days' where no = 4",
        "update seals set at = at + interval '3 days' where no = 4",
        "Seal",
      ],
      [
        "seals",
        "update seals set kind = 'nothing' where no = 4",
        "update seals set kind = 'catalogue_documents' where no = 4",
        "Seal 4",
      ],
      [
        "blobs",
        "update blobs set size_bytes = size_bytes + 1",
        "update blobs set size_bytes = octet_length(bytes)",
        "are said to be",
      ],
      [
        "journal",
        `update journal set entry = entry || '{"person":null}' where no = 1`,
        "update journal set entry = entry - 'person' where no = 1",
        "empty field",
      ],
    ] as const) {
      expect([sql, await owner(table, sql)]).toEqual([sql, true]);
      const found = (await says()).join("; ");
      expect([sql, found]).toEqual([sql, expect.stringContaining(told) as string]);
      await owner(table, undo);
      expect([undo, await says()]).toEqual([undo, []]);
    }
    // bytes that a row names by their hash
    const gone = "update blobs set sha256 = repeat('e', 64) where sha256 = (select sha256 from images limit 1)";
    await asOwner(
      "alter table images drop constraint if exists images_sha256_fkey; alter table read_texts drop constraint if exists read_texts_sha256_fkey",
    );
    const image = await one<{ sha256: string }>("select sha256 from images limit 1");
    expect(await owner("blobs", gone)).toBe(true);
    expect((await says()).join("; ")).toContain("names stored bytes that are not there");
    await owner("blobs", `update blobs set sha256 = '${image?.sha256 ?? ""}' where sha256 = repeat('e', 64)`);
    expect(await says()).toEqual([]);
  });

  it("a table that cannot be read is told, and the others are looked at all the same", async () => {
    await asOwner("alter table allowances rename to allowances_away");
    await owner("journal", "update journal set account = 'nobody' where no = 2");
    const found = await verifyChain();
    expect(found.faults.map(({ kind }) => kind)).toContain("unread");
    expect(found.faults.map(({ says: text }) => text).join("; ")).toContain("journal 1/2 was rewritten");
    await owner("journal", "update journal set account = 'lead' where no = 2");
    await asOwner("alter table allowances_away rename to allowances");
    expect(await says()).toEqual([]);
  });

  it("what is changed by the ordinary way has its entry, and is no fault", async () => {
    await run("update accounts set role = 'observer'");
    await run("update boards set release_id = 'heddle-23'");
    await run("update campaigns set state = 'open', state_reason = '', changed_at = now()");
    expect(await says()).toEqual([]);
    const kinds = await rows<{ n: number }>("select count(*)::int as n from seals where kind = 'accounts-is'");
    expect(kinds[0]?.n).toBe(2);
  });
});
