import { instruct } from "@/bench/instruct";
import type { JobStore } from "@/bench/store";
import { startBench } from "@/bench/bench";
import { asPlanned, openItems, type Proof, type ScriptLine } from "@/core/carryover";
import { PLAIN_LAYOUT, type Catalogue } from "@/core/catalog";
import { applicationSpace, stampIdentity, writeHex } from "@/core/image";
import type { StepName } from "@/core/job";
import { snapshotOf, takeDirtyChunks } from "@/core/sim";
import { addAccount } from "@/server/accounts";
import { writeLive } from "@/server/repositories/bench";
import { getJson } from "@/server/repositories/blobs";
import {
  catalogueOf,
  importDocument,
  importImage,
  loadCatalogue,
  newerThan,
  pinDocuments,
} from "@/server/repositories/catalogue";
import { aircraftByTag } from "@/server/repositories/fleet";
import { groundAircraft, groundingsOf, liftGrounding } from "@/server/repositories/groundings";
import { jobById, orderJob } from "@/server/repositories/jobs";
import { awaitOrder, placeOrder } from "@/server/repositories/orders";
import { createSimBoard, saveSimBoard } from "@/server/repositories/simulation";
import { one, rows, run } from "@/server/sql";
import { planOfJob, readJob } from "@/server/web/job-view";
import { demoDocuments } from "../../demo/documents";
import { asOwner, codeOf } from "../support/database";
import { imageFile, makeBoard, foundIn } from "../support/workshop";
import { openRoom, type Room } from "../support/room";
import { entriesOfJob } from "@/server/repositories/journal";

const BAY = 2;
const TAG = "QW-60";
let room: Room;

const reaches = (jobId: number, step: StepName, status: string) =>
  room.until(async () => {
    const at = await room.standsAt(jobId);
    return at?.id === step && at.status === status;
  }, `the job is ${status} at ${step}`);

async function decideAll(jobId: number): Promise<void> {
  const view = await readJob(jobId);
  const plan = view && (await planOfJob(view));
  if (!plan) throw new Error("there is no plan");
  const choices = Object.fromEntries(openItems(plan, {}).map((item) => [item.id, item.choices[0]?.id ?? ""]));
  expect(await room.order({ kind: "decide", choices }, jobId)).toBe("done");
  await room.take(jobId);
}

const HEDDLE_23 = demoDocuments().find(({ document }) => document.id === "heddle-23")?.text ?? "";
const update = () =>
  orderJob({
    bayNo: BAY,
    aircraftId: room.aircraftId,
    goal: { kind: "update", releaseId: "heddle-23" },
    account: "technician",
  });

beforeAll(async () => {
  room = await openRoom({ name: "promises", tag: TAG, bay: BAY, firstPort: 40, factor: 300 });
  await addAccount({ name: "lead", person: "", role: "lead" });
  expect(await room.order({ kind: "bring", boardId: room.simId })).toBe("done");
  expect(await room.order({ kind: "plug", button: false, pads: false })).toBe("done");
  await room.until(async () => (await room.live()).aircraftId === room.aircraftId, "the board is matched");
}, 60_000);

afterAll(() => room.close());

describe("a job keeps to what it began with", () => {
  let jobId = 0;

  it("case C77: a document and an image that come in meanwhile change nothing; that newer ones exist is told", async () => {
    jobId = await update();
    expect(await room.order({ kind: "begin" }, jobId)).toBe("done");
    await reaches(jobId, "plan", "waiting");
    // another order of settings, another default, another title: whoever worked it out anew would send other lines
    const [head = "", tail = ""] = HEDDLE_23.split("\nadd:\n");
    const extra = `  - { key: aaa.new, title: "Comes in meanwhile", area: sensors, type: { switch: true }, default: true, says: "In tests only." }`;
    await importDocument(`${head}\nadd:\n${extra}\n${tail}`, "lead");
    // the same release for the same target, built anew
    const other = imageFile("heddle-23", "CSLATE-B").slice();
    const { board } = await makeBoard();
    other[other.length - 1] = (other[other.length - 1] ?? 0) ^ 0xff;
    const { identityOffset } = board.processor;
    stampIdentity(
      other,
      {
        family: "Heddle",
        version: "23",
        target: "CSLATE-B",
        processor: board.processor.id,
        regionFormat: "heddle-region-23",
        lengthBytes: other.length,
      },
      identityOffset,
      PLAIN_LAYOUT,
    );
    const { start } = applicationSpace(board.processor);
    const newer = await importImage(new TextEncoder().encode(writeHex([{ start, bytes: other }])), "lead");
    expect(newer.version).toBe(2);
    await room.bench.stop();
    room.bench = await startBench();
    await decideAll(jobId);
    await reaches(jobId, "make-safe", "waiting");
    const view = await readJob(jobId);
    expect(await newerThan(view?.job.documents ?? null)).toEqual([{ id: "heddle-23", version: 2, had: 1 }]);
    // one release by two documents: each is asked for by its own, whichever was asked for last
    const has = (made: Catalogue) =>
      made.releases.get("heddle-23")?.settings.some(({ key }) => key === "aaa.new") ?? "no release";
    const pins = view?.job.documents ?? null;
    const asked = [
      await catalogueOf(pins),
      await loadCatalogue(),
      await catalogueOf(await pinDocuments()),
      await catalogueOf(pins),
    ];
    expect(asked.map(has)).toEqual([false, true, true, false]);
    const pinned = foundIn(view?.state).imageSha;
    expect(pinned).not.toBe(newer.sha256);
    expect(await room.order({ kind: "confirm", step: "make-safe" }, jobId)).toBe("done");
    await reaches(jobId, "check-attitude", "running");
    const data = foundIn((await readJob(jobId))?.state);
    const [script, proof] = [
      (await getJson(data.scriptSha ?? "")) as ScriptLine[],
      (await getJson(data.proofSha ?? "")) as Proof,
    ];
    expect(asPlanned(proof)).toBe(true);
    for (const value of proof.values.filter(({ sentLine }) => sentLine > 0)) {
      const key = value.id.slice(value.id.lastIndexOf("/") + 1);
      expect([value.id, script[value.sentLine - 1]?.text.includes(key)]).toEqual([value.id, true]);
    }
    // the image that was written is the one whose hash the journal holds, and it is still there
    const kept = await rows<{ version: number; sha256: string }>(
      "select version, sha256 from images where release_id = 'heddle-23' and target = 'CSLATE-B' order by version",
    );
    expect(kept.map(({ version }) => version)).toEqual([1, 2]);
    expect(kept[0]?.sha256).toBe(pinned);
    expect(await codeOf(run("delete from images"))).not.toBe("ok");
  }, 60_000);

  it("what was ordered of hands while the bench was frozen is not carried out afterwards", async () => {
    await room.bench.stop();
    const id = await placeOrder({
      benchId: room.benchId,
      bayNo: BAY,
      body: { kind: "lean", roll: 0, pitch: 30, heading: 0 },
      account: "technician",
      goodForS: 0,
    });
    await new Promise((resolve) => setTimeout(resolve, 30));
    room.bench = await startBench();
    expect(await codeOf(awaitOrder(id, 10_000))).toBe("order-late");
    await room.until(async () => (await room.live()).senses !== undefined, "the bay shows its board");
    expect((await room.live()).senses?.pitch).toBe(0);
  });

  it("case C78: the record cannot be written for a while: the bay says so, the others go on, and the job ends as it should", async () => {
    await reaches(jobId, "check-attitude", "running");
    // the database takes no line of this job: what the checks see cannot be kept
    await asOwner(
      "create function no_lines() returns trigger language plpgsql as 'begin raise exception ''no space left on device'' using errcode = ''disk_full''; end'",
    );
    await asOwner(
      `create trigger no_lines before insert on journal for each row when (new.job_id = ${jobId}) execute function no_lines()`,
    );
    await room.order({ kind: "lean", roll: 0, pitch: 30, heading: 0 });
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    // meanwhile another bay does what it is asked
    expect(await room.order({ kind: "take-out" }, undefined, { bayNo: 5 })).toBe("done");
    expect((await room.standsAt(jobId))?.passed).toEqual({});
    await asOwner("drop trigger no_lines on journal");
    await room.until(
      async () => Object.keys((await room.standsAt(jobId))?.passed ?? {}).length > 0,
      "the check goes on",
    );
    const notes = (await readJob(jobId))?.state.steps.find(({ id }) => id === "check-attitude")?.notes ?? [];
    expect(notes.map(({ text }) => text).join()).toContain("The record could not be written");
    expect(notes.map(({ text }) => text).join()).not.toContain("cable");
  }, 60_000);

  it("a stop gets through, ends the job for good, and grounds the aircraft; a person's own reason stays until it is taken back", async () => {
    await groundAircraft(TAG, "Waits for a new antenna", "lead");
    expect(await room.order({ kind: "stop", reason: "rain", writing: false }, jobId)).toBe("done");
    await room.until(async () => (await room.live()).job === undefined, "the bay is free");
    expect((await jobById(jobId))?.state).toBe("stopped");
    expect((await readJob(jobId))?.state.phase).toBe("stopped");
    const reasons = await groundingsOf(room.aircraftId);
    expect(reasons.map(({ cause, reason, account }) => [cause, reason, account])).toEqual([
      ["board", "No job was signed off on its board yet", "lead"],
      ["person", "Waits for a new antenna", "lead"],
      ["job", "Update to Heddle 23 was stopped: rain", "technician"],
    ]);
    expect(await codeOf(liftGrounding(TAG, reasons[2]?.id ?? 0, "lead"))).toBe("grounding-job");
    expect((await aircraftByTag(TAG))?.state).toBe("out-of-service");
  });

  it("case C80: a signed-off job answers what jobs and boards left open, and nothing that a person said", async () => {
    await room.until(async () => (await room.live()).aircraftId === room.aircraftId, "the board is matched again");
    const again = await orderJob({
      bayNo: BAY,
      aircraftId: room.aircraftId,
      goal: { kind: "update", releaseId: "heddle-23" },
      scope: { kind: "without-feel" },
      account: "technician",
    });
    const nowhere = orderJob({
      bayNo: BAY,
      aircraftId: room.aircraftId,
      goal: { kind: "update", releaseId: "heddle-23" },
      scope: { kind: "wiring", starter: "nobody" },
      account: "technician",
    });
    expect(await codeOf(nowhere)).toBe("starter-none");
    expect((await jobById(again))?.headline).toBe("Write anew Heddle 23");
    expect(await room.order({ kind: "begin" }, again)).toBe("done");
    await room.until(async () => (await room.standsAt(again))?.status === "waiting", "it asks something");
    if ((await room.standsAt(again))?.id === "plan") await decideAll(again);
    await reaches(again, "make-safe", "waiting");
    await room.order({ kind: "confirm", step: "make-safe" }, again);
    await reaches(again, "check-attitude", "running");
    for (const [roll, pitch, heading] of [
      [0, 30, 0],
      [0, 0, 0],
      [30, 0, 0],
      [0, 0, 0],
      [0, 0, 40],
    ] as const) {
      await room.order({ kind: "lean", roll, pitch, heading });
      await new Promise((resolve) => setTimeout(resolve, 150));
    }
    await reaches(again, "check-receiver", "running");
    for (let index = 0; index < 4; index++)
      for (const pulse of [1000, 2000]) {
        await room.order({ kind: "stick", index, pulse });
        await new Promise((resolve) => setTimeout(resolve, 80));
      }
    await reaches(again, "sign-off", "waiting");
    // pressed twice, or by two: the aircraft is signed for once
    const both = await Promise.all([room.order({ kind: "sign" }, again), room.order({ kind: "sign" }, again)]);
    expect(both.toSorted()).toEqual(["done", "too-late"]);
    const signed = (await entriesOfJob(again)).filter(({ entry }) => entry.kind === "signed");
    expect(signed).toHaveLength(1);
    // also in the moment after the first, when the step still waits; the plan's taking as well
    const row = await jobById(again);
    const entries = await entriesOfJob(again);
    const said: unknown[] = [];
    for (const [kind, word] of [
      ["signed", "sign"],
      ["taken", "take"],
    ] as const) {
      const upTo = entries.slice(0, entries.findIndex(({ entry }) => entry.kind === kind) + 1);
      const store = {
        entries: () => Promise.resolve(upTo),
        append: (entry: unknown) => Promise.resolve(said.push(entry)),
      } as unknown as JobStore;
      const bay = { job: row && { row, store, attempt: undefined }, storeOf: () => store };
      await expect(instruct({ kind: word }, "technician", row, bay)).rejects.toMatchObject({
        problem: { code: "too-late" },
      });
    }
    expect(said).toEqual([]);
    await room.until(async () => (await jobById(again))?.state === "finished", "the job is finished");
    // case C30: tune was left behind and no starter set was laid: nobody has tuned it
    expect(await groundingsOf(room.aircraftId)).toMatchObject([
      { cause: "person", reason: "Waits for a new antenna" },
      {
        cause: "person",
        reason: expect.stringContaining("flies on the release's plain defaults until it is tuned") as string,
      },
    ]);
    expect((await aircraftByTag(TAG))?.state).toBe("out-of-service");
    await liftGrounding(TAG, (await groundingsOf(room.aircraftId))[1]?.id ?? 0, "technician");
    expect(await aircraftByTag(TAG)).toMatchObject({
      state: "out-of-service",
      state_reason: "Waits for a new antenna",
    });
    await liftGrounding(TAG, (await groundingsOf(room.aircraftId))[0]?.id ?? 0, "technician");
    expect(await aircraftByTag(TAG)).toMatchObject({ state: "in-service", state_reason: "" });
  }, 90_000);
});

describe("line noise", () => {
  it("a NUL in what a board says, or half a character, stops no bay: it is shown, and the others go on", async () => {
    const noisy = await createSimBoard({
      label: "Noise \0 on the line",
      chipId: "4A17-\0-1",
      modelId: "corsley-slate",
      firstPort: 90,
    });
    const { board, link } = await makeBoard();
    await saveSimBoard(room.benchId, null, {
      boardId: noisy,
      bayNo: null,
      clockUs: link.clock.nowUs(),
      snapshot: snapshotOf(board),
      chunks: [...takeDirtyChunks(board)],
    });
    // the column keeps no NUL: the board is given one in its firmware's place, as a damaged chip id would
    const fence =
      (await one<{ fence: string }>("select fence from benches where id = $1", [room.benchId]))?.fence ?? "";
    await writeLive(room.benchId, fence, 6, { mark: "look", say: "Says \0\ud800 something" });
    expect((await room.live(6)).say).toBe("Says ␀� something");
    expect(await room.order({ kind: "bring", boardId: noisy }, undefined, { bayNo: 6 })).toBe("done");
    expect(await room.order({ kind: "plug", button: false, pads: false }, undefined, { bayNo: 6 })).toBe("done");
    await room.until(
      async () => (await room.live(6)).chipId !== undefined,
      "the board with the odd chip id says who it is",
    );
    expect((await room.live(6)).chipId).toBe("4A17-␀-1");
    const waited = room.bench.lost.then(() => "lost");
    expect(await Promise.race([waited, new Promise((resolve) => setTimeout(() => resolve("runs"), 500))])).toBe("runs");
    expect(await room.order({ kind: "take-out" }, undefined, { bayNo: 6 })).toBe("done");
  });
});

describe("a job is stopped while the board is being written to", () => {
  it("is refused until it is meant; then it ends at once, and the aircraft stays on the ground", async () => {
    const again = await orderJob({
      bayNo: BAY,
      aircraftId: room.aircraftId,
      goal: { kind: "update", releaseId: "heddle-23" },
      account: "technician",
    });
    expect(await room.order({ kind: "begin" }, again)).toBe("done");
    await room.until(async () => (await room.standsAt(again))?.status === "waiting", "it asks something");
    if ((await room.standsAt(again))?.id === "plan") await decideAll(again);
    await reaches(again, "make-safe", "waiting");
    await room.order({ kind: "clock", factor: 1 });
    expect(await room.order({ kind: "confirm", step: "make-safe" }, again)).toBe("done");
    await reaches(again, "flash", "running");
    expect(await room.order({ kind: "stop", reason: "now", writing: false }, again)).toBe("stop-writing");
    expect((await room.standsAt(again))?.status).toBe("running");
    expect(await room.order({ kind: "stop", reason: "fire in the shop", writing: true }, again)).toBe("done");
    await room.until(async () => (await room.live()).job === undefined, "the bay is free");
    expect(await jobById(again)).toMatchObject({ state: "stopped" });
    expect(await aircraftByTag(TAG)).toMatchObject({ state: "out-of-service" });
    expect((await groundingsOf(room.aircraftId)).map(({ reason }) => reason)).toEqual([
      expect.stringContaining("was stopped: fire in the shop"),
    ]);
    // the bay takes orders as before
    await room.order({ kind: "clock", factor: 300 });
    expect(await room.order({ kind: "unplug" })).toBe("done");
    await room.until(async () => (await room.live()).presence === "none", "the cable is out");
  }, 60_000);
});
