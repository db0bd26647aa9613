import { zipSync } from "fflate";
import Papa from "papaparse";
import { defaultConfiguration, idiomOf, reciteLines, type Extent } from "@/core/idiom";
import { fleetDrift } from "@/core/compare";
import { addressId, type Value } from "@/core/config";
import { closeDb } from "@/server/db";
import { backupById, fileBackup, knownCopy } from "@/server/repositories/backups";
import { currentDocuments, importDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { csvOf } from "@/server/csv";
import { toCsv, toJson, toZip } from "@/server/repositories/exports";
import { addAircraft, aircraftByTag } from "@/server/repositories/fleet";
import { entriesOf, inspectFile } from "@/server/repositories/intake";
import { confirmPassage, keepLearnt, learnText, proposalFor } from "@/server/repositories/learning";
import { fileBroughtReadout } from "@/server/repositories/brought";
import { impactOn } from "@/server/repositories/impact";
import { addNote, notesOf } from "@/server/repositories/notes";
import { previewDocuments } from "@/server/repositories/preview";
import { raiseStandard } from "@/server/repositories/raise-standard";
import { readingOf, vectorsOf } from "@/server/repositories/readings";
import { readingsOf, sideChoices, sideOf } from "@/server/repositories/sides";
import { listTypes, makeStandard, membersOf, newestStandards, standardsOf } from "@/server/repositories/standards";
import { closeReaders } from "@/server/outside/pool";
import { impactOnFleet } from "@/server/web/fleet-impact";
import { demoDocuments } from "../../demo/documents";
import { CHIP, catalogue, release, statementIdiom } from "../support/workshop";
import { asOwner, codeOf, freshDatabase, giveSlate } from "../support/database";

function text(values: Readonly<Record<string, Value>> = {}, extent: Extent = "all", id = "heddle-22", chipId = CHIP) {
  const of = release(id);
  const document = catalogue().idioms.get(of.idiom);
  const idiom = document ? idiomOf(document) : statementIdiom();
  const base = defaultConfiguration(of, "CSLATE-B", {
    family: of.family,
    release: of.version,
    target: "CSLATE-B",
    chipId,
  });
  const settings = base.settings.map((s) => ({ ...s, value: values[addressId(s)] ?? s.value }));
  return new TextEncoder().encode(`${reciteLines({ ...base, settings }, of, idiom, extent).join("\n")}\n`);
}

const ids = new Map<string, number>();
const file = (tag: string, raw: Uint8Array, daysAgo: number) =>
  fileBackup({
    raw,
    tag,
    aircraftId: ids.get(tag) ?? null,
    jobId: null,
    chipId: null,
    source: "file",
    account: "technician",
    at: "2026-11-24T09:12:00Z",
    takenAt: new Date(Date.UTC(2026, 10, 24) - daysAgo * 86_400_000),
  });

beforeAll(async () => {
  await freshDatabase("fleet");
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  for (const tag of ["QW-41", "QW-42", "QW-43"]) ids.set(tag, await addAircraft({ tag, label: "", type: "Sedge" }));
  ids.set("QW-50", await addAircraft({ tag: "QW-50", label: "", type: "Warbler" }));
  await giveSlate("QW-41", CHIP);
});
afterAll(async () => {
  closeReaders();
  await closeDb();
});

describe("read-outs that somebody brings", () => {
  it("are proposed with what they are, how they are judged, and whose they seem to be", async () => {
    const [byChip] = await inspectFile(text(), "capture.txt");
    expect(byChip?.proposal).toMatchObject({
      release: "Heddle 22",
      verdict: "complete",
      tag: "QW-41",
      tagBy: `its chip id ${CHIP}`,
      duplicate: null,
    });
    const [byName] = await inspectFile(
      text({ "system/craft.label": "QW-43" }, "all", "heddle-22", "0000-0000-0001"),
      "x.txt",
    );
    expect(byName?.proposal).toMatchObject({ tag: "QW-43", tagBy: "the name it gives itself" });
    const [byFile] = await inspectFile(text({}, "active", "heddle-22", "0000-0000-0002"), "QW-42 spring.txt");
    expect(byFile?.proposal).toMatchObject({ tag: "QW-42", tagBy: "the file's name", verdict: "incomplete" });
    const [nobody] = await inspectFile(text({}, "moved", "heddle-22", "0000-0000-0003"), "a.txt");
    expect(nobody?.proposal).toMatchObject({ tag: null, verdict: "moved-only" });
  });

  it("an archive is opened, and each file in it stands for itself; the same bytes are known again", async () => {
    const archive = zipSync({
      "spring/one.txt": text(),
      "two.txt": text({ "system/loop.rate": 8 }),
      "notes.txt": new TextEncoder().encode("dear diary"),
    });
    const found = await inspectFile(archive, "all.zip");
    expect(found.map((entry) => [entry.name, entry.proposal?.verdict ?? entry.problem?.code])).toEqual([
      ["spring/one.txt", "complete"],
      ["two.txt", "complete"],
      ["notes.txt", "backup-foreign"],
    ]);
    const { id } = await file("QW-41", text(), 90);
    expect((await inspectFile(text(), "again.txt"))[0]?.proposal?.duplicate).toMatchObject({ id });
    expect(await knownCopy(text(), ids.get("QW-41") ?? 0)).toMatchObject({ id });
    expect(await knownCopy(text(), ids.get("QW-42") ?? 0)).toBeUndefined();
  });

  it("case C54: archives that would burst, or are none, are refused before they are unpacked", async () => {
    const bomb = zipSync({ "zeros.txt": new Uint8Array(30_000_000) }, { level: 9 });
    expect(bomb.length).toBeLessThan(100_000);
    expect(await codeOf(inspectFile(bomb, "bomb.zip"))).toBe("archive-refused");
    const many = zipSync(Object.fromEntries(Array.from({ length: 201 }, (_, i) => [`${i}.txt`, new Uint8Array(1)])));
    expect(await codeOf(inspectFile(many, "many.zip"))).toBe("archive-refused");
    expect(await codeOf(inspectFile(new Uint8Array([0x50, 0x4b, 3, 4, 9, 9]), "broken.zip"))).toBe("archive-refused");
    expect((await inspectFile(new Uint8Array([0xff, 0xfe, 0, 1]), "b.bin"))[0]?.problem?.code).toBe("backup-binary");
    expect(await entriesOf(text(), "one.txt")).toHaveLength(1);
  });

  it("notes are kept as they were written, with their backup", async () => {
    const { id } = await file("QW-42", text({ "system/loop.rate": 8 }), 60);
    await addNote(id, "wiring", "Receiver on pad R3", "technician");
    expect(await notesOf([id])).toMatchObject([{ kind: "wiring", text: "Receiver on pad R3", account: "technician" }]);
    await expect(asOwner("update backup_notes set text = 'other'")).rejects.toThrow("append-only");
  });

  it("go out as they came, as CSV and JSON with implicit values, and as an archive with their hashes", async () => {
    const { id, recital } = await file(
      "QW-42",
      text({ "system/craft.note": "=1+1", "system/gyro.zero.x": -0.5 }, "moved"),
      50,
    );
    const csv = Papa.parse<Record<string, string>>(toCsv(recital), { header: true }).data;
    const row = (key: string) => csv.find((each) => each.key === key);
    expect(row("loop.rate")).toMatchObject({ value: "4", unit: "kHz", written: "no, default" });
    expect(row("craft.note")?.value).toBe("'=1+1");
    expect(row("gyro.zero.x")?.value).toBe("-0.50");
    // numbers stay numbers, with their unit or without; what a spreadsheet would reckon with does not
    const cell = (text: string) => Papa.parse<string[]>(csvOf([{ cell: text }])).data[1]?.[0];
    for (const number of ["-0.5", "-12 °", "+3 %", "-250 °/s", "-1.25 m/s²", "7"]) expect(cell(number)).toBe(number);
    for (const odd of ["=1+1", "-1+2", "+cmd|x!A1", "@sum(1)", "-1 -2", "-(1)", "-2 =1"])
      expect(cell(odd)).toBe(`'${odd}`);
    const { row: backup } = await backupById(id);
    const json = JSON.parse(toJson(recital, backup.sha256)) as {
      completeness: string;
      settings: { key: string; implicit?: boolean }[];
    };
    expect(json.completeness).toBe("moved-only");
    expect(json.settings.find((s) => s.key === "loop.rate")?.implicit).toBe(true);
    const files = await entriesOf(await toZip("QW-42"), "zip");
    expect(files.map((each) => each.name).filter((name) => name.endsWith(".txt"))).toHaveLength(2);
    expect(new TextDecoder().decode(files.find((each) => each.name === "list.csv")?.bytes)).toContain(backup.sha256);
    expect(await codeOf(toZip("QW-99"))).toBe("backup-none");
  });
});

describe("standards and the fleet", () => {
  it("case C68: a standard has versions; only a complete read-out can be one; a later version does not change an earlier", async () => {
    const whole = await file("QW-43", text({ "system/gyro.smoothing": 70 }), 40);
    const moved = await file("QW-43", text({ "system/gyro.smoothing": 71 }, "moved"), 39);
    expect(await codeOf(makeStandard("Sedge", moved.id, "", "lead"))).toBe("standard-incomplete");
    expect(await codeOf(makeStandard("Heron", whole.id, "", "lead"))).toBe("type-none");
    expect(await makeStandard("Sedge", whole.id, "as flown", "lead")).toBe(1);
    expect(
      await makeStandard("Sedge", (await file("QW-43", text({ "system/gyro.smoothing": 75 }), 38)).id, "", "lead"),
    ).toBe(2);
    expect((await standardsOf("Sedge")).map((s) => [s.version, s.backup_id === whole.id])).toEqual([
      [2, false],
      [1, true],
    ]);
    await expect(asOwner("delete from standards")).rejects.toThrow("append-only");
    expect(await listTypes()).toMatchObject([
      { type: "Sedge", count: 3, version: 2 },
      { type: "Warbler", count: 1, version: null },
    ]);
  });

  it("case C50: who has drifted, in what; what was read once is kept and made again when the catalogue changes", async () => {
    const [standard] = await newestStandards();
    const members = await membersOf("Sedge");
    const { configuration, release: of } = await readingOf(standard?.sha256 ?? "");
    const hashes = members.flatMap((m) => m.sha256 ?? []);
    const vectors = await vectorsOf(hashes);
    expect(await vectorsOf(hashes)).toEqual(vectors);
    const fleet = members.flatMap(({ tag, sha256 }) => {
      const vector = vectors.get(sha256 ?? "");
      return vector ? [{ tag, vector }] : [];
    });
    const drift = fleetDrift({ configuration, release: of }, fleet, await loadCatalogue());
    expect(drift.rows.map((row) => [row.tag, row.cells.map((cell) => `${cell.column} ${cell.shown}`)])).toEqual([
      ["QW-41", ["system/gyro.smoothing 90 Hz"]],
      ["QW-42", ["system/gyro.smoothing 90 Hz"]],
      ["QW-43", []],
    ]);
  });

  it("a standard is raised to another release as its next version, complete there", async () => {
    const [newest] = await standardsOf("Sedge");
    expect(await raiseStandard(newest?.id ?? 0, "heddle-23", "keep", "lead")).toBe(3);
    const [raised] = await standardsOf("Sedge");
    expect(raised).toMatchObject({
      version: 3,
      release_id: "heddle-23",
      note: "Raised from standard 2, Heddle 22 → 23",
    });
    const { configuration, completeness } = await readingOf(raised?.sha256 ?? "");
    expect(completeness.verdict).toBe("complete");
    const at = (id: string) => configuration.settings.find((s) => addressId(s) === id)?.value;
    expect([at("system/gyro.smoothing"), at("system/notch.width")]).toEqual([75, 24]);
    // what was made here is nobody's rescue
    expect((await aircraftByTag("QW-43"))?.complete_id).not.toBe(raised?.backup_id);
  });

  it("sides of a comparison are named by links, and lead somewhere or say why not", async () => {
    expect((await sideOf("aircraft:QW-41")).tag).toBe("QW-41");
    expect((await sideOf("standard:1")).title).toBe("Sedge standard 1");
    expect((await sideOf("defaults:heddle-23@TMOTE")).configuration.identity.target).toBe("TMOTE");
    expect(await codeOf(sideOf("aircraft:QW-50"))).toBe("side-bare");
    for (const ref of ["backup:99999", "backup:x", "standard:77", "nonsense", "other:thing"])
      expect([ref, await codeOf(sideOf(ref))]).toEqual([ref, "side-none"]);
    expect((await sideChoices()).map((choice) => choice.group)).toEqual(
      expect.arrayContaining(["Standards", "Defaults of a release"]),
    );
    expect((await sideChoices("qw-41")).map((choice) => choice.ref)).toContain("aircraft:QW-41");
    expect((await sideChoices("bobbin 4")).map((choice) => choice.title)).toEqual(["Bobbin 40", "Bobbin 41"]);
    expect(await sideChoices("%_")).toEqual([]);
    // case C48: what an aircraft held, oldest first
    expect((await readingsOf(ids.get("QW-43") ?? 0)).map((reading) => reading.verdict)).toEqual([
      "complete",
      "moved-only",
      "complete",
    ]);
  });
});

describe("documents that change", () => {
  it("case C69: before a definition is adopted it is told what on file would read differently", async () => {
    const idiom = (await currentDocuments("idiom")).find((each) => each.id === "statement");
    if (!idiom) throw new Error("no idiom");
    expect((await previewDocuments([idiom.text])).changed).toEqual([]);
    const deaf = await previewDocuments([idiom.text.replace('"put {key} {value...}"', '"set {key} {value...}"')]);
    expect(deaf.looked).toBeGreaterThan(0);
    expect(deaf.changed).toHaveLength(deaf.looked);
    expect(deaf.changed[0]?.says).toContain("becomes incomplete");
    const comma = await previewDocuments([idiom.text.replace('decimalMark: "."', 'decimalMark: ","')]);
    expect(comma.changed[0]?.says).toMatch(/\d+ values, such as /);
    expect(await codeOf(previewDocuments(["document: idiom"]))).toBe("document-schema");
  });

  it("a release is learnt from a read-out, kept, and joined to its forerunner by confirmed rules", async () => {
    const raw = new TextDecoder().decode(text({}, "all", "heddle-24")).replace("firmware: Heddle", "firmware: Learnt");
    const learnt = await learnText(raw, undefined, {});
    expect(learnt.document.idiom).toBe("statement");
    expect(await codeOf(learnText("dear diary", undefined, {}))).toBe("learn-nothing");
    expect(await codeOf(learnText(raw, "no-such", {}))).toBe("idiom-none");
    expect(learnt.settings.length).toBeGreaterThan(200);
    expect(await keepLearnt(learnt, "lead")).toMatchObject({ id: "learnt-24", version: 1 });
    expect(await codeOf(keepLearnt(learnt, "lead"))).toBe("release-known");
    expect(await codeOf(learnText("dear diary", "statement", {}))).toBe("learn-nothing");
    const { rules } = proposalFor(await loadCatalogue(), "heddle-23", "learnt-24");
    const sure = rules.flatMap((rule, i) => (rule.confidence >= 0.6 ? [i] : []));
    expect(sure.length).toBeGreaterThan(5);
    expect(await confirmPassage("heddle-23", "learnt-24", sure, "lead")).toMatchObject({ version: 2 });
    expect((await loadCatalogue()).releases.get("learnt-24")?.passages).toMatchObject([{ from: "heddle-23" }]);
    expect(await codeOf(confirmPassage("heddle-23", "learnt-24", sure, "lead"))).toBe("passage-known");
    expect(await codeOf(confirmPassage("heddle-22", "learnt-24", [99_999], "lead"))).toBe("rule-none");
  });
});

describe("what a text is read as", () => {
  it("case C84: is offered with what speaks for each; what a person says counts from then on, wherever it is read", async () => {
    await addAircraft({ tag: "QW-44", label: "", type: "Sedge" });
    // a part of a read-out, without the lines that say what it is from
    const whole = new TextDecoder().decode(text({}, "all", "heddle-19"));
    const lines = whole.split("\n");
    const about = lines.filter((line) => line.startsWith(";; target"));
    const active = lines.filter((line) => line.startsWith("use ")).slice(-3);
    const values = lines.filter((line) => line.startsWith("put ")).slice(0, 60);
    const part = new TextEncoder().encode(`${[...about, ...values, ...active].join("\n")}\n`);
    const [entry] = await inspectFile(part, "part.txt");
    const offered = entry?.candidates.map(({ releaseId }) => releaseId) ?? [];
    expect(offered).toEqual(expect.arrayContaining(["heddle-18", "heddle-19"]));
    expect(entry?.candidates[0]?.evidence).toMatch(/^\d+ of \d+ settings are known to it$/);
    const brought = { file: part, tag: "QW-44", entry: undefined, account: "technician" };
    const told = { releaseId: "heddle-19", extent: "moved" as const };
    const { id, verdict } = await fileBroughtReadout({ ...brought, readAs: told });
    expect(verdict).toBe("moved-only");
    const kept = await backupById(id);
    const reading = await readingOf(kept.row.sha256);
    expect([reading.release.id, reading.completeness.verdict]).toEqual(["heddle-19", "moved-only"]);
    expect(reading.completeness.findings.some(({ text: says }) => says.includes("because somebody said so"))).toBe(
      true,
    );
    expect(await codeOf(fileBroughtReadout({ ...brought, tag: "QW-43", readAs: { releaseId: "no-such" } }))).toBe(
      "release-unknown",
    );
  });
});

describe("what a release would do to the fleet", () => {
  it("is the same for a large fleet, worked out in a process of its own, and counts every aircraft once", async () => {
    const tags = Array.from({ length: 60 }, (_, i) => `QW-${100 + i}`);
    for (const [i, tag] of tags.entries()) {
      ids.set(tag, await addAircraft({ tag, label: "", type: "Bulrush" }));
      await file(tag, text({ "system/craft.label": tag }, "all", i % 2 === 0 ? "heddle-22" : "heddle-23"), 1);
    }
    const [here, outside] = [await impactOn("heddle-24", "Bulrush"), await impactOnFleet("heddle-24", "Bulrush")];
    expect(outside).toEqual(JSON.parse(JSON.stringify(here)));
    expect(outside.aircraft.map(({ tag }) => tag)).toEqual(tags.toSorted());
    expect(outside.impacts.some(({ aircraft }) => aircraft.length === 60)).toBe(true);
    // the one that is kept is the same one; a read-out more makes another
    expect(await impactOnFleet("heddle-24", "Bulrush")).toBe(outside);
    await file("QW-100", text({ "system/motor.rest": 7 }), 0);
    expect(await impactOnFleet("heddle-24", "Bulrush")).not.toBe(outside);
    expect(await codeOf(impactOn("no-such", ""))).toBe("release-unknown");
  });
});
