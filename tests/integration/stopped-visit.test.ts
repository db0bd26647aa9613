import { setTimeout as delay } from "node:timers/promises";
import { pgStore } from "@/bench/pg-store";
import { checkPapers, readArchive } from "@/core/papers";
import { valueOf } from "@/core/problem";
import { closeDb, getDb } from "@/server/db";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { importDocuments, importImage } from "@/server/repositories/catalogue";
import { addAircraft } from "@/server/repositories/fleet";
import { jobById, orderJob } from "@/server/repositories/jobs";
import { visitPapers } from "@/server/repositories/visit-papers";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase, giveSlate } from "../support/database";
import { CHIP, imageFile, slateReadout } from "../support/workshop";

let benchId = 0;
let aircraftId = 0;
let fence = "";

beforeAll(async () => {
  await freshDatabase("stopped_visit");
  benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map(({ text }) => text),
    "lead",
  );
  await importImage(imageFile("heddle-23", "CSLATE-B"), "lead");
  aircraftId = await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  await giveSlate("QW-01", CHIP);
  fence = await takeFence(benchId);
  const board = { mark: "ok", say: "Answers", presence: "console", aircraftId, chipId: CHIP } as const;
  await writeLive(benchId, fence, 1, { ...board, target: "CSLATE-B", family: "Heddle", release: "22" });
}, 60_000);

afterAll(closeDb);

/** A visit of which the board is read in two ways while somebody stops it, so many milliseconds after they began. */
async function stoppedAfter(ms: number): Promise<{ jobId: number; filed: number }> {
  const goal = { kind: "update", releaseId: "heddle-23" } as const;
  const job = await jobById(await orderJob({ bayNo: 1, aircraftId, goal, account: "technician" }));
  if (!job) throw new Error("no job");
  const store = pgStore({ job, fence, beforeAppend: () => Promise.resolve() });
  await store.append({ kind: "ordered", headline: job.headline }, "technician");
  const before = await getDb().Backup.count();
  const stop = async () => {
    await delay(ms);
    await store.append({ kind: "stopped", reason: "no time" }, "technician");
  };
  await Promise.all([stop(), store.fileBackup(slateReadout()), store.fileRescue(new Uint8Array([ms, 1, 2]))]);
  return { jobId: job.id, filed: (await getDb().Backup.count()) - before };
}

describe("a board that is read while somebody stops the job", () => {
  it("whenever the word comes: what was read is on file, and the papers of the visit are whole", async () => {
    const kept = new Set<number>();
    for (let ms = 0; ms <= 45; ms += 3) {
      const { jobId, filed } = await stoppedAfter(ms);
      const { bytes } = await visitPapers(jobId);
      const { faults, statement } = await checkPapers(valueOf(readArchive(bytes)), {});
      expect({ ms, filed, faults }).toEqual({ ms, filed: 2, faults: [] });
      const ofVisit = await getDb().Backup.findAll({ where: { job_id: jobId } });
      const named = statement.rows.filter((row) => row.startsWith("backups "));
      expect(named.toSorted()).toEqual(ofVisit.map(({ id }) => `backups ${id}`).toSorted());
      kept.add(named.length);
    }
    // the word came before one of them and after it, or nothing was tried here
    expect(kept.size).toBeGreaterThan(1);
  }, 120_000);
});
