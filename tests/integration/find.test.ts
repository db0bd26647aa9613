import { closeDb } from "@/server/db";
import { importDocuments } from "@/server/repositories/catalogue";
import { find } from "@/server/repositories/find";
import {
  addAircraft,
  listTags,
  mostUrgent,
  readRegister,
  REGISTER_PAGE,
  summariseRegister,
} from "@/server/repositories/fleet";
import { run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase, giveSlate } from "../support/database";

beforeAll(async () => {
  await freshDatabase("find");
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  await addAircraft({ tag: "QW-71", label: "100 % reed_bed", type: "Sedge" });
  await giveSlate("QW-71", "AB12-CD34-EF56");
  await addAircraft({ tag: "QW-72", label: "North", type: "Heron" });
});
afterAll(closeDb);

const titles = async (query: string, group?: string) =>
  (await find(query)).filter((thing) => group === undefined || thing.group === group).map((thing) => thing.title);

describe("finding", () => {
  it("finds aircraft by tag, label, type and chip id", async () => {
    for (const query of ["qw-71", "reed_bed", "ab12-cd34", "100 %"])
      expect([query, await titles(query, "Aircraft")]).toEqual([query, ["QW-71 100 % reed_bed"]]);
    expect(await titles("heron", "Types")).toEqual(["Heron against its standard"]);
  });

  it("marks that mean something to the database mean themselves", async () => {
    expect(await titles("%", "Aircraft")).toEqual(["QW-71 100 % reed_bed"]);
    expect(await titles("q_71", "Aircraft")).toEqual([]);
    expect(await titles("'; drop table aircraft; --")).toEqual([]);
  });

  it("finds releases, settings and things to do, by the words that people search for", async () => {
    expect(await titles("heddle 23", "Releases")).toEqual(["Heddle 23"]);
    expect(await titles("gyro.smooth", "Settings")).toContain("Smoothing of the gyro (gyro.smoothing)");
    expect(await titles("OSD", "To do")).toEqual(["Compare two configurations"]);
    expect(await titles("bay 3", "Bays")).toEqual(["Bay 3"]);
    // two letters fit too much to be worth looking through settings
    expect(await titles("gy", "Settings")).toEqual([]);
  });

  it("gives a handful of each kind, however many there are", async () => {
    const many = Array.from(
      { length: 400 },
      (_, i) => `('LW-${String(i).padStart(4, "0")}', 'many', 'Heron', 'in-service')`,
    );
    await run(`insert into aircraft (tag, label, type, state) values ${many.join(", ")}`);
    expect((await titles("LW-", "Aircraft")).length).toBe(12);
    expect(await listTags()).toHaveLength(402);
  });

  it("the register gives a page of what fits, in the order asked for", async () => {
    const all = await readRegister();
    expect([all.rows.length, all.found]).toEqual([REGISTER_PAGE, 402]);
    const last = await readRegister({ text: "lw-", order: "tag", down: true });
    expect([last.found, last.rows[0]?.tag]).toEqual([400, "LW-0399"]);
    expect((await readRegister({ text: "lw-", page: 8 })).rows.at(-1)?.tag).toBe("LW-0399");
    expect((await readRegister({ page: 9 })).rows.map((row) => row.tag)).toEqual(["QW-71", "QW-72"]);
    expect((await readRegister({ text: "100 % reed_" })).found).toBe(1);
    expect((await readRegister({ type: "Heron", standing: "no-backup" })).found).toBe(400);
    expect((await readRegister({ standing: "in-service" })).found).toBe(0);
  });

  it("those that need somebody come first, and the fleet is summed up", async () => {
    expect((await mostUrgent(3)).map((row) => [row.tag, row.standing])).toEqual([
      ["QW-71", "out-of-service"],
      ["QW-72", "out-of-service"],
      ["LW-0000", "no-backup"],
    ]);
    const { total, standings, types } = await summariseRegister();
    expect([total, standings]).toEqual([402, { "out-of-service": 2, "no-backup": 400 }]);
    expect(types).toContain("Heron");
  });
});
