import { Client } from "pg";
import { closeDb } from "@/server/db";
import { migrate, MIGRATIONS } from "@/server/migrate";
import { verifyChain } from "@/server/chain";
import { allAccounts, signIn } from "@/server/accounts";
import { hashPassword } from "@/server/passwords";
import { getBlob } from "@/server/repositories/blobs";
import { readRegister } from "@/server/repositories/fleet";
import { jobById } from "@/server/repositories/jobs";
import { groundingsOf } from "@/server/repositories/groundings";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { createHash } from "node:crypto";
import { demoDocuments } from "../../demo/documents";
import { asOwner, emptyDatabase, workOn } from "../support/database";

afterAll(closeDb);

const sha = (text: string) => createHash("sha256").update(text).digest("hex");
const READOUT = ";; a read-out\n";

/**
 * A workshop as each earlier version of the schema could hold one: by plain statements of that time, never by the program
 * of today. Later schemas hold what earlier ones did.
 */
const FILLED: readonly [string, (client: Client) => Promise<unknown>][] = [
  [
    "0001-workshop",
    async (client) => {
      await client.query(
        "insert into accounts (name, role, password_hash) values ('lead', 'lead', $1), ('technician', 'technician', $1)",
        [await hashPassword("an old password that stays")],
      );
      await client.query("insert into blobs values ($1, $2, $3)", [sha(READOUT), Buffer.from(READOUT), READOUT.length]);
      for (const { document, text } of demoDocuments())
        await client.query(
          "insert into catalogue_documents (kind, document_id, version, text, sha256, imported_by) values ($1, $2, 1, $3, $4, 'lead')",
          [document.document, document.id, text, sha(text)],
        );
      await client.query(`
        insert into images (release_id, target, sha256, length_bytes, imported_by) values ('heddle-22', 'CSLATE-B', '${sha(READOUT)}', 14, 'lead');
        insert into aircraft (tag, type, state, state_reason) values
          ('QW-01', 'Sedge', 'in-service', ''), ('QW-02', 'Sedge', 'out-of-service', 'A bent arm'),
          ('QW-03', 'Sedge', 'out-of-service', 'Update to Heddle 23 was stopped: rain');
        insert into boards (chip_id, model_id, target, release_id, aircraft_id) values ('4A17', 'corsley-slate', 'CSLATE-B', 'heddle-22', 1);
        insert into benches (name, fence, next_no) values ('Bench 1', 3, 3);
        insert into bays (bench_id, no) select 1, generate_series(1, 6);
        insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, state, headline, ordered_by, ended_at)
          values (1, 1, 1, '4A17', '{"kind":"update","releaseId":"heddle-23"}', '[]', 'finished', 'Update to Heddle 23', 'technician', now()),
                 (1, 2, 3, '4A18', '{"kind":"update","releaseId":"heddle-23"}', '[]', 'open', 'Update to Heddle 23', 'technician', null);
        insert into backups (aircraft_id, job_id, chip_id, sha256, source, name, release_id, target, verdict, taken_by)
          values (1, 1, '4A17', '${sha(READOUT)}', 'job', 'QW-01 Heddle 22', 'heddle-22', 'CSLATE-B', 'complete', 'technician');
        insert into journal (bench_id, no, job_id, bay_no, account, entry) values
          (1, 1, 1, 1, 'technician', '{"kind":"ordered","headline":"Update to Heddle 23"}'), (1, 2, 1, 1, null, '{"kind":"finished"}');
        insert into orders (bench_id, bay_no, body, account, state, done_at) values (1, 1, '{"kind":"unplug"}', 'technician', 'done', now());
        insert into sim_boards (label, chip_id, model_id, first_port) values ('The board of QW-01', '4A17', 'corsley-slate', 1);
        insert into sim_flash values (1, 0, 'bytes');
      `);
    },
  ],
  [
    "0002-standards-and-notes",
    (client) =>
      client.query(
        "insert into standards (type, version, backup_id, made_by) values ('Sedge', 1, 1, 'lead'); insert into backup_notes (backup_id, kind, text, account) values (1, 'note', 'After the summer', 'lead')",
      ),
  ],
  ["0003-register", () => Promise.resolve()],
  [
    "0004-boards-move",
    (client) =>
      client.query(
        "insert into board_moves (board_id, aircraft_id, chip_id, model_id, account) values (1, 1, '4A17', 'corsley-slate', 'lead')",
      ),
  ],
  [
    "0005-promises",
    (client) =>
      client.query(
        "insert into groundings (aircraft_id, cause, reason, account, lifted_by, lifted_at) values (1, 'person', 'Rain', 'lead', 'lead', now())",
      ),
  ],
  ["0006-ports", (client) => client.query("update bays set port = '/dev/ttyUSB0' where no = 6")],
  ["0007-keepers", (client) => client.query("update accounts set person = 'The lead' where name = 'lead'")],
  ["0008-second-factor", (client) => client.query("update accounts set second_step = 7 where name = 'technician'")],
  [
    "0009-campaigns",
    (client) =>
      client.query(
        "insert into allowances (type, kind, name, reason, made_by) values ('Sedge', 'area', 'lights', 'Each its own', 'lead')",
      ),
  ],
  [
    "0010-withdrawn",
    (client) =>
      client.query(
        "insert into document_standings (kind, document_id, used, reason, account) values ('release', 'sley-3', false, 'Old', 'lead')",
      ),
  ],
  ["0011-benches", (client) => client.query("insert into benches (name) values ('Field tent')")],
  [
    "0012-signed",
    (client) =>
      client.query(`
        insert into secrets (name, value) values ('signing 1', 'a key of then');
        insert into signing_keys (name, thumbprint, x, made_by) values ('signing 1', repeat('t', 43), repeat('x', 43), 'workshop');
        insert into visit_statements (job_id, says) values (1, '{"job":1}');
      `),
  ],
  ["0013-states", (client) => client.query("update boards set target = 'CSLATE-A' where chip_id = '4A17'")],
  ["0014-clock", () => Promise.resolve()],
];

describe("a workshop of an earlier version", () => {
  it("of each there is one here", () => {
    expect(FILLED.map(([name]) => name)).toEqual(MIGRATIONS.slice(0, -1).map(({ name }) => name));
  });

  it.each(FILLED.map(([name], i) => [name, i] as const))(
    "%s is brought up to date with everything in it",
    async (name, i) => {
      const database = await emptyDatabase(`fresh_start_from_${i}`);
      await workOn(database);
      let from = "";
      for (const [each, fill] of FILLED.slice(0, i + 1)) {
        await migrate(each);
        const client = new Client({ connectionString: process.env.DATABASE_OWNER_URL });
        await client.connect();
        await fill(client);
        await client.end();
        from = each;
      }
      expect(from).toBe(name);
      await migrate();
      // the program of today finds what was kept
      expect((await allAccounts()).map((account) => [account.name, account.role])).toEqual([
        ["lead", "lead"],
        ["technician", "technician"],
      ]);
      const where = { address: "127.0.0.1", browser: "", device: "" };
      expect((await signIn({ name: "lead", password: "an old password that stays" }, where)).name).toBe("lead");
      expect(new TextDecoder().decode(await getBlob(sha(READOUT)))).toBe(READOUT);
      const { rows: register } = await readRegister();
      expect(register.map(({ tag, standing }) => `${tag} ${standing}`).toSorted()).toEqual([
        "QW-01 in-service",
        "QW-02 out-of-service",
        "QW-03 out-of-service",
      ]);
      expect(register.find(({ tag }) => tag === "QW-01")?.complete_at).toBeInstanceOf(Date);
      expect((await groundingsOf(3)).map(({ cause }) => cause)).toEqual(["job"]);
      expect((await loadCatalogue()).releases.has("heddle-23")).toBe(true);
      // a goal from before parts were named
      expect((await jobById(1))?.goal).toEqual({ kind: "update", runs: { main: "heddle-23" } });
      // sealed as it was found, and guarded from now on
      expect((await verifyChain()).faults).toEqual([]);
      await expect(asOwner("delete from journal")).rejects.toThrow("append-only");
      expect(await migrate()).toEqual([]);
    },
  );
});
