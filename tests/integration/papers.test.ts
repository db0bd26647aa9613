import { closeDb } from "@/server/db";
import type { Extent } from "@/core/idiom";
import { backupById, backupsOf, fileBackup, fileRescue, recitalOf } from "@/server/repositories/backups";
import { ensureBench, takeFence } from "@/server/repositories/bench";
import {
  documentText,
  importDocuments,
  listDocuments,
  listImages,
  loadImage,
  loadCatalogue,
} from "@/server/repositories/catalogue";
import { addAircraft, aircraftById, readRegister } from "@/server/repositories/fleet";
import { appendEntry } from "@/server/repositories/journal";
import { jobsOfAircraft, listJobs, openJobsOf } from "@/server/repositories/jobs";
import { one, rows } from "@/server/sql";
import { cardOf, planOfJob, readJob } from "@/server/web/job-view";
import { registerEntry } from "@/server/web/views";
import { demoDocuments } from "../../demo/documents";
import { CHIP, slateReadout, updateJob } from "../support/workshop";
import { codeOf, freshDatabase } from "../support/database";

let aircraftId = 0;
let jobId = 0;
let benchId = 0;
let fence = "";

const text = (extent: Extent) => slateReadout(extent);
const filing = (raw: Uint8Array, job: number | null = null) => ({
  raw,
  tag: "QW-30",
  aircraftId,
  jobId: job,
  chipId: null,
  source: "file" as const,
  account: "technician",
  at: "2026-11-24T09:12:00Z",
});

beforeAll(async () => {
  await freshDatabase("papers");
  benchId = await ensureBench("Reed hut");
  fence = await takeFence(benchId);
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  aircraftId = await addAircraft({ tag: "QW-30", label: "", type: "Sedge" });
  const steps = updateJob().steps;
  const job = await one<{ id: number }>(
    "insert into jobs (bench_id, bay_no, aircraft_id, chip_id, goal, steps, headline, ordered_by) values ($1, 2, $2, $3, $4, $5, 'Update', 'technician') returning id",
    [benchId, aircraftId, CHIP, JSON.stringify({ kind: "update", releaseId: "heddle-23" }), JSON.stringify(steps)],
  );
  jobId = job?.id ?? 0;
});

afterAll(closeDb);

describe("papers", () => {
  it("a read-out is filed with its identity and judgement; each kind is told apart", async () => {
    const whole = await fileBackup(filing(text("all")));
    const moved = await fileBackup(filing(text("moved")));
    const active = await fileBackup(filing(text("active")));
    expect((await backupsOf(aircraftId)).map((b) => b.verdict).toSorted()).toEqual([
      "complete",
      "incomplete",
      "moved-only",
    ]);
    expect((await backupById(whole.id)).row).toMatchObject({
      chip_id: CHIP,
      release_id: "heddle-22",
      target: "CSLATE-B",
    });
    expect((await recitalOf(moved.id)).completeness.verdict).toBe("moved-only");
    expect((await backupById(active.id)).row.findings).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ against: true, text: expect.stringContaining("Profiles are missing") as string }),
      ]),
    );
  });

  it("what is no read-out is refused, and nothing of it is kept", async () => {
    const count = async () => (await rows("select id from backups")).length;
    const [before, blobs] = [await count(), (await rows("select sha256 from blobs")).length];
    expect(await codeOf(fileBackup(filing(new TextEncoder().encode("dear diary"))))).toBe("backup-foreign");
    expect(await codeOf(fileBackup(filing(Uint8Array.of(0xff, 0xfe, 0xfd))))).toBe("backup-binary");
    expect([await count(), (await rows("select sha256 from blobs")).length]).toEqual([before, blobs]);
    expect(await codeOf(backupById(99_999))).toBe("backup-none");
  });

  it("a settings region is kept raw, and counts as no backup that could be restored", async () => {
    const id = await fileRescue(filing(new Uint8Array(16_384).fill(0xff), jobId));
    expect((await backupById(id)).row).toMatchObject({ verdict: "raw", source: "rescue", release_id: null });
    const row = await aircraftById(aircraftId);
    expect(row?.complete_id).not.toBe(id);
    expect(row?.last_verdict).not.toBe("raw");
  });

  it("a job's plan is worked out from its backup, and its card from its journal", async () => {
    const view = await readJob(jobId);
    if (!view) throw new Error("the job is missing");
    expect(await planOfJob(view)).toBeUndefined();
    expect(cardOf(view)).toMatchObject({ begun: false, phase: "open", tag: "QW-30" });
    const { id } = await fileBackup(filing(text("all"), jobId));
    const append = (entry: Parameters<typeof appendEntry>[0]["entry"]) =>
      appendEntry({ benchId, fence, jobId, bayNo: 2, account: "technician", entry });
    await append({ kind: "ordered", headline: "Update" });
    await append({ kind: "done", step: "back-up", evidence: "whole", data: { backupId: id } });
    const target = { target: "CSLATE-B", toRelease: "heddle-23" };
    await append({ kind: "done", step: "know-target", evidence: "by its own word", data: target });
    const later = await readJob(jobId);
    const plan = later && (await planOfJob(later));
    expect(plan?.to).toEqual({ release: "heddle-23", title: "Heddle 23", target: "CSLATE-B" });
    expect(later && cardOf(later)).toMatchObject({ begun: true, backupId: id });
    expect(await readJob(99_999)).toBeUndefined();
    expect(await readJob(Number.NaN)).toBeUndefined();
    expect([
      (await openJobsOf(benchId)).length,
      (await jobsOfAircraft(aircraftId)).length,
      (await listJobs()).length,
    ]).toEqual([1, 1, 1]);
  });

  it("the register and the catalogue are told in the words that people use", async () => {
    const [row] = (await readRegister()).rows;
    if (!row) throw new Error("the register is empty");
    expect(registerEntry(row, await loadCatalogue())).toMatchObject({
      tag: "QW-30",
      model: "no board",
      firmware: "unknown",
      job: { headline: "Update" },
    });
    const documents = await listDocuments();
    expect(documents).toHaveLength(demoDocuments().length);
    const idiom = documents.find((d) => d.kind === "idiom" && d.document_id === "statement");
    expect((await documentText(idiom?.id ?? 0))?.name).toBe("statement.idiom.v1.yaml");
    expect(await documentText(99_999)).toBeUndefined();
    expect(await listImages()).toEqual([]);
    expect(await codeOf(loadImage(await loadCatalogue(), "heddle-23", "CSLATE-B"))).toBe("image-none");
  });
});
