import { closeDb } from "@/server/db";
import { startBench } from "@/bench/bench";
import { asideDocuments, importDocument, loadCatalogue } from "@/server/repositories/catalogue";
import { readJobAnyway } from "@/server/web/job-view";
import { one, run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { codeOf } from "../support/database";
import { openRoom, type Room } from "../support/room";

let room: Room;

beforeAll(async () => {
  // it says what it sets aside where it was started
  jest.spyOn(console, "error").mockImplementation(() => undefined);
  room = await openRoom({ name: "poison", tag: "QW-88", bay: 1, firstPort: 90, factor: 200 });
}, 60_000);
afterAll(async () => {
  await room.close();
  await closeDb();
});

/** Puts a version of a document in as it could not come in by itself: accepted by an earlier program, or damaged. */
const poison = (kind: string, id: string, text: string) =>
  run(
    `insert into catalogue_documents (kind, document_id, version, text, sha256, imported_by)
     select $1, $2, 1 + coalesce(max(version), 0), $3, repeat('0', 64), 'lead' from catalogue_documents where kind = $1 and document_id = $2`,
    [kind, id, text],
  );

describe("one document that cannot be used", () => {
  const statement = demoDocuments().find(({ document }) => document.id === "statement")?.text ?? "";

  it.each([
    ["is no YAML", "idiom", "statement", "{ this is: [no document"],
    ["does not fit its format", "idiom", "section", "document: idiom\nid: section\n"],
    [
      "refers to what is not there",
      "board-model",
      "corsley-slate",
      "document: board-model\nid: corsley-slate\nprocessor: none-such\n",
    ],
  ])("%s: it is set aside by name, the one before it is used, everything else goes on", async (_, kind, id, text) => {
    const before = (await asideDocuments()).length;
    const known = (await loadCatalogue()).releases.size;
    await poison(kind, id, text);
    const catalogue = await loadCatalogue();
    expect(catalogue.releases.size).toBe(known);
    const aside = await asideDocuments();
    expect(aside).toHaveLength(before + 1);
    expect(aside.some((each) => each.kind === kind && each.documentId === id && each.problem.message !== "")).toBe(
      true,
    );
  });

  it("a mended one comes in as the next version, beside those that are still set aside", async () => {
    expect(await importDocument(`${statement}\n# mended\n`, "lead")).toMatchObject({ id: "statement", version: 3 });
    expect((await asideDocuments()).map(({ documentId }) => documentId).toSorted()).toEqual([
      "corsley-slate",
      "section",
    ]);
    expect(await codeOf(importDocument("document: idiom\nid: x\n", "lead"))).toBe("document-schema");
  });
});

describe("at the start of a bench", () => {
  it("a job whose record cannot be read and a board that cannot be put back are told and left; the others begin", async () => {
    await room.order({ kind: "bring", boardId: room.simId });
    await room.order({ kind: "plug", button: false, pads: false });
    await room.bench.stop();
    const job = await one<{ id: number }>(
      `insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, ordered_by, headline)
       values ($1, 2, $2, 'x', '{}', '[]', 'technician', 'A job of yesterday') returning id`,
      [room.benchId, room.aircraftId],
    );
    const id = job?.id ?? 0;
    await run(
      'insert into journal (bench_id, no, job_id, bay_no, entry) values ($1, 5000, $2, 2, \'{"kind":"done"}\')',
      [room.benchId, id],
    );
    await run(
      "insert into sim_boards (label, chip_id, model_id, first_port, bench_id, bay_no) values ('A stranger', 'y', 'none-such', 1, $1, 3)",
      [room.benchId],
    );
    room.bench = await startBench();
    await room.until(async () => (await room.live(1)).presence === "console", "the healthy board answers");
    await room.until(async () => (await room.live(2)).mark === "no", "bay 2 says what is wrong");
    expect((await room.live(2)).say).toMatch(
      /^Visit \d+ cannot be taken up: stop it on its card\. Entry 5000 of the record/,
    );
    expect((await room.live(3)).say).toMatch(/^The board that lay here cannot be put back\. /);
    expect(await readJobAnyway(id)).toMatchObject({ job: { id }, trouble: { code: "journal-unreadable" } });
    // the ways out
    expect(await room.order({ kind: "stop", reason: "", writing: true }, id, { bayNo: 2 })).toBe("done");
    await room.until(async () => (await room.live(2)).say === "Empty", "bay 2 is free");
    expect(await room.order({ kind: "take-out" }, undefined, { bayNo: 3 })).toBe("done");
    await room.until(async () => (await room.live(3)).say === "Empty", "bay 3 is free");
    expect(await one("select bay_no from sim_boards where label = 'A stranger'")).toEqual({ bay_no: null });
  }, 60_000);
});
