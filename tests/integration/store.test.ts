import { Client } from "pg";
import { startBench } from "@/bench/bench";
import { pgStore } from "@/bench/pg-store";
import { closeDb, getDb } from "@/server/db";
import { databaseUrl } from "@/server/env";
import { fileBackup, backupById } from "@/server/repositories/backups";
import { getBlob, putBlob } from "@/server/repositories/blobs";
import { ensureBench, readBays, setClockFactor, takeFence, writeLive } from "@/server/repositories/bench";
import { importDocument, importDocuments, importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { boardsByChip } from "@/server/repositories/boards";
import { addAircraft, readRegister, relabelAircraft } from "@/server/repositories/fleet";
import { jobById, listJobs, orderJob } from "@/server/repositories/jobs";
import { appendEntry, entriesAfter, entriesOfJob, lastNos } from "@/server/repositories/journal";
import { checkOrder } from "@/contracts/order-shapes";
import {
  awaitOrder,
  closeBroken,
  closeOrder,
  placeOrder,
  takeOrder,
  waitingOrders,
} from "@/server/repositories/orders";
import { one, run } from "@/server/sql";
import { applicationSpace, stampIdentity, writeHex } from "@/core/image";
import { PLAIN_LAYOUT, processorOf } from "@/core/catalog";
import { demoDocuments } from "../../demo/documents";
import { CHIP, imageFile, slateReadout } from "../support/workshop";
import { asOwner, codeOf, freshDatabase, giveSlate } from "../support/database";

const recital = () => slateReadout();

let benchId = 0;
let aircraftId = 0;

beforeAll(async () => {
  await freshDatabase("store");
  benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  aircraftId = await addAircraft({ tag: "QW-01", label: "North fen", type: "Sedge" });
  await giveSlate("QW-01", CHIP);
}, 60_000);

afterAll(closeDb);

const newBackup = () => ({
  raw: recital(),
  tag: "QW-01",
  aircraftId,
  jobId: null,
  chipId: CHIP,
  source: "file" as const,
  account: "technician",
  at: "2026-11-24T09:12:00Z",
});

/** The board of the aircraft answers in bay 1; a bench that ran meanwhile may have shown the bay empty. */
const boardAnswers = (fence: string) =>
  writeLive(benchId, fence, 1, {
    mark: "ok",
    say: "Answers",
    presence: "console",
    aircraftId,
    chipId: CHIP,
    target: "CSLATE-B",
  });

async function openJob(fence: string): Promise<number> {
  await boardAnswers(fence);
  return orderJob({ bayNo: 1, aircraftId, goal: { kind: "update", releaseId: "heddle-23" }, account: "technician" });
}

describe("what must never change", () => {
  it("a backup: its bytes come back with their hash, and the database refuses to change or lose it", async () => {
    const { id } = await fileBackup(newBackup());
    const { row, raw } = await backupById(id);
    expect(Buffer.compare(raw, recital())).toBe(0);
    expect([row.verdict, row.name]).toEqual(["complete", "QW-01 Heddle 22 2026-11-24 09:12"]);
    for (const sql of [
      "update backups set name = 'x'",
      "delete from backups",
      "truncate backups cascade",
      "delete from blobs",
      "update blobs set bytes = ''",
    ]) {
      await expect(asOwner(sql)).rejects.toThrow("append-only");
      await expect(run(sql)).rejects.toThrow();
    }
  });

  it("the journal: neither changed nor shortened", async () => {
    for (const sql of ["update journal set account = 'x'", "delete from journal", "truncate journal"]) {
      await expect(asOwner(sql)).rejects.toThrow("append-only");
      await expect(run(sql)).rejects.toThrow();
    }
  });

  it("equal bytes are stored once, and damage in the store is noticed", async () => {
    const name = await putBlob(new Uint8Array([1, 2, 3]));
    expect(await putBlob(new Uint8Array([1, 2, 3]))).toBe(name);
    expect([...(await getBlob(name))]).toEqual([1, 2, 3]);
    await run("insert into blobs (sha256, bytes, size_bytes) values ($1, $2, 1)", ["0".repeat(64), Buffer.from([9])]);
    expect(await codeOf(getBlob("0".repeat(64)))).toBe("blob-damaged");
  });
});

describe("case C71: one bench, one process", () => {
  it("who has lost the fence writes nothing any more", async () => {
    const old = await takeFence(benchId);
    const entry = { kind: "finished" } as const;
    await importImages();
    const jobId = await openJob(old);
    const place = { benchId, jobId, bayNo: 1, account: null };
    await appendEntry({ ...place, fence: old, entry: { kind: "noted", step: "flash", text: "first" } });
    const fresh = await takeFence(benchId);
    expect(await codeOf(appendEntry({ ...place, fence: old, entry }))).toBe("bench-fenced");
    expect(await codeOf(writeLive(benchId, old, 1, { mark: "no", say: "late" }))).toBe("bench-fenced");
    await appendEntry({ ...place, fence: fresh, entry: { kind: "noted", step: "flash", text: "second" } });
    expect((await entriesOfJob(jobId)).map(({ entry: e }) => e.kind === "noted" && e.text)).toEqual([
      "first",
      "second",
    ]);
    expect((await readBays(benchId))[0]?.live.say).toBe("Answers");
  });

  it("numbers follow the commits without a gap, also under contention, and what did not commit has none", async () => {
    const fence = await takeFence(benchId);
    const before = (await lastNos()).get(benchId) ?? 0;
    const [job] = await Promise.all([entriesAfter(new Map())]);
    const jobId = job[0]?.jobId ?? 0;
    const append = (i: number) =>
      appendEntry({
        benchId,
        fence,
        jobId,
        bayNo: 1,
        account: null,
        entry: { kind: "noted", step: "flash", text: `note ${i}` },
      });
    await Promise.all(Array.from({ length: 30 }, (_, i) => append(i)));
    await expect(
      appendEntry({ benchId, fence, jobId, bayNo: 1, account: null, entry: { kind: "finished" } }, () =>
        Promise.reject(new Error("no")),
      ),
    ).rejects.toThrow("no");
    const numbers = (await entriesAfter(new Map([[benchId, before]]))).map((e) => e.no);
    expect(numbers).toEqual(Array.from({ length: 30 }, (_, i) => before + 1 + i));
  });

  it("a second process refuses to work", async () => {
    const first = await startBench();
    try {
      expect(await codeOf(startBench())).toBe("bench-claimed");
    } finally {
      await first.stop();
    }
  });

  it("lets go at once when its database session is gone", async () => {
    const bench = await startBench();
    const killer = new Client({ connectionString: databaseUrl() });
    await killer.connect();
    await killer.query(
      `select pg_terminate_backend(pid) from pg_stat_activity
        where application_name = 'fresh-start bench' and datname = current_database()`,
    );
    await killer.end();
    await expect(bench.lost).resolves.toBeInstanceOf(Error);
    await bench.stop();
  });
});

async function importImages(): Promise<void> {
  const catalogue = await loadCatalogue();
  const processor = processorOf(catalogue, "Nettle 20");
  const hex = writeHex([{ start: applicationSpace(processor).start, bytes: imageFile("heddle-23", "CSLATE-B") }]);
  await importImage(new TextEncoder().encode(hex), "lead");
}

describe("jobs and orders", () => {
  beforeAll(async () => boardAnswers(await takeFence(benchId)));

  it("case C55: the second who orders for the same bay is told who and when", async () => {
    const again = orderJob({ bayNo: 1, aircraftId, goal: { kind: "update", releaseId: "heddle-23" }, account: "lead" });
    await expect(again).rejects.toMatchObject({
      problem: { code: "bay-taken", detail: expect.stringContaining("ordered by technician") as string },
    });
  });

  it("what can be known to fail is refused before anything is touched", async () => {
    expect(
      await codeOf(
        orderJob({ bayNo: 2, aircraftId, goal: { kind: "update", releaseId: "heddle-23" }, account: "lead" }),
      ),
    ).toBe("board-elsewhere");
    expect(
      await codeOf(
        orderJob({ bayNo: 1, aircraftId, goal: { kind: "update", releaseId: "heddle-99" }, account: "lead" }),
      ),
    ).toBe("release-unknown");
    expect(
      await codeOf(
        orderJob({ bayNo: 1, aircraftId, goal: { kind: "update", releaseId: "heddle-22" }, account: "lead" }),
      ),
    ).toBe("image-none");
  });

  it("case C48, case C34: a board is set up from a whole backup, on the release that it runs; whose it was is worked out", async () => {
    const other = await addAircraft({ tag: "QW-77", label: "", type: "Sedge" });
    const live = {
      mark: "ok",
      say: "Answers",
      presence: "console",
      aircraftId: other,
      chipId: "77",
      target: "CSLATE-B",
    } as const;
    const order = (backupId: number, although?: string) =>
      orderJob({
        bayNo: 3,
        aircraftId: other,
        goal: { kind: "set-up", backupId, parts: {}, ...(although === undefined ? {} : { although }) },
        account: "technician",
      });
    const file = async (raw: Uint8Array, owner: number, chipId = "77") =>
      (await fileBackup({ ...newBackup(), raw, tag: "QW-77", aircraftId: owner, chipId })).id;
    /** What a job from a backup would be for; it is stopped again. */
    const goalOf = async (backupId: number, although?: string) => {
      const job = await jobById(await order(backupId, although));
      await run("update jobs set state = 'stopped', ended_at = now() where id = $1", [job?.id]);
      return job?.goal;
    };
    const fence = await takeFence(benchId);
    await writeLive(benchId, fence, 3, { ...live, family: "Heddle", release: "23" });
    const [foreign, whole] = [await file(recital(), aircraftId), await file(recital(), other)];
    const part = await file(recital().slice(0, 4000), other);
    expect([await codeOf(order(999_999)), await codeOf(order(part))]).toEqual(["backup-none", "backup-incomplete"]);
    // what is not complete is taken by a reason only, and what is complete needs none
    expect([await codeOf(order(part, " ")), await codeOf(order(part, "no"))]).toEqual([
      "backup-incomplete",
      "backup-incomplete",
    ]);
    expect(await goalOf(part, " Only this was saved ")).toMatchObject({
      backupId: part,
      although: "Only this was saved",
    });
    expect(await goalOf(whole, "For no reason")).not.toHaveProperty("although");
    const before = await file(recital(), other, CHIP);
    expect([await goalOf(foreign), await goalOf(before)]).toMatchObject([
      { kind: "set-up", backupId: foreign, whose: "another", parts: {} },
      { kind: "set-up", backupId: before, whose: "this-aircraft" },
    ]);
    await writeLive(benchId, fence, 3, live);
    expect(await codeOf(order(whole))).toBe("release-unknown");
    await writeLive(benchId, fence, 3, { ...live, family: "Heddle", release: "23" });
    const job = await jobById(await order(whole));
    // read out under 22, carried to what runs now; no step writes firmware
    expect(job?.goal).toEqual({ kind: "set-up", runs: { main: "heddle-23" }, backupId: whole });
    expect(job?.steps.map((step) => step.id)).toEqual([
      "know-board",
      "back-up",
      "know-target",
      "plan",
      "make-safe",
      "restore",
      "prove",
      "check-attitude",
      "check-receiver",
      "sign-off",
    ]);
  });

  it("an order is one of a few shapes, and a refusal reaches whoever placed it", async () => {
    expect(checkOrder({ kind: "plug", extra: 1 })).toEqual({ kind: "plug", button: false, pads: false });
    expect(() => checkOrder({ kind: "stick", index: 9, pulse: 1500 })).toThrow();
    expect(() => checkOrder({ kind: "decide", choices: { a: 1 } })).toThrow();
    const bench = { benchId, fence: await takeFence(benchId) };
    const unplug = { benchId, bayNo: 3, body: { kind: "unplug" }, account: "technician" } as const;
    const id = await placeOrder(unplug);
    expect((await waitingOrders(benchId)).map((o) => o.id)).toContain(id);
    expect(await takeOrder(id, bench)).toBe(true);
    expect(await takeOrder(id, bench)).toBe(false);
    expect(await awaitOrder(id, 10)).toBe("taken");
    const ended = codeOf(awaitOrder(id, 5000));
    await closeOrder(id, bench, { code: "bay-empty", message: "Bay 3 is empty" });
    expect(await ended).toBe("bay-empty");
    // nobody comes to it: what hands were asked for is withdrawn, and never carried out later
    const alone = await placeOrder(unplug);
    expect(await codeOf(awaitOrder(alone, 20))).toBe("bench-silent");
    expect(await takeOrder(alone, bench)).toBe(false);
    // a bench that was frozen comes to it too late
    const old = await placeOrder({ ...unplug, goodForS: 0 });
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(await takeOrder(old, bench)).toBe(false);
    expect(await codeOf(awaitOrder(old, 1000))).toBe("order-late");
    // a stop is wanted whenever the bench comes to it
    const stop = await placeOrder({ ...unplug, body: { kind: "stop", reason: "", writing: false } });
    expect(await awaitOrder(stop, 20)).toBe("waiting");
    // taken by a process that died: nobody knows how far it came, and that is said
    expect(await takeOrder(stop, bench)).toBe(true);
    await closeBroken(bench);
    expect(await codeOf(awaitOrder(stop, 1000))).toBe("order-broken");
  });

  it("a bench that has lost its session writes nothing: no order, no clock, no backup, no board, no paper", async () => {
    const old = { benchId, fence: await takeFence(benchId) };
    const id = await placeOrder({ benchId, bayNo: 3, body: { kind: "unplug" }, account: "technician" });
    expect(await takeOrder(id, old)).toBe(true);
    await takeFence(benchId);
    expect(await codeOf(takeOrder(id, old))).toBe("bench-fenced");
    expect(await codeOf(closeOrder(id, old))).toBe("bench-fenced");
    expect(await codeOf(setClockFactor(benchId, old.fence, 3))).toBe("bench-fenced");
    const job = await jobById((await listJobs())[0]?.id ?? 0);
    if (!job) throw new Error("no job");
    const store = pgStore({ job, fence: old.fence, beforeAppend: () => Promise.resolve() });
    const count = async () => [
      await getDb().Backup.count(),
      (await one<{ n: string }>("select count(*) as n from blobs"))?.n,
    ];
    const before = await count();
    expect(await codeOf(store.fileBackup(slateReadout()))).toBe("bench-fenced");
    expect(await codeOf(store.fileRescue(new Uint8Array([1, 2, 3])))).toBe("bench-fenced");
    expect(await codeOf(store.boardRuns("heddle-23", "CSLATE-B", "4A17-0C22-91FE"))).toBe("bench-fenced");
    expect(await codeOf(store.putJson({ a: Math.PI }))).toBe("bench-fenced");
    expect(await codeOf(store.append({ kind: "finished" }))).toBe("bench-fenced");
    expect(await count()).toEqual(before);
  });
});

describe("accounts and register", () => {
  it("tags are unique; labels are kept as they are", async () => {
    expect(await codeOf(addAircraft({ tag: "QW-01", label: "", type: "Sedge" }))).toBe("tag-taken");
    await relabelAircraft("QW-01", "<b>fen</b>");
    const [row] = (await readRegister()).rows;
    expect(row).toMatchObject({ tag: "QW-01", label: "<b>fen</b>", chip_id: CHIP });
    expect(row?.complete_at).toBeInstanceOf(Date);
    expect(await boardsByChip(CHIP)).toHaveLength(1);
  });

  it("documents have versions; the same text is no new one; one that breaks the catalogue is refused whole", async () => {
    const idiom = demoDocuments().find((d) => d.document.document === "idiom");
    if (!idiom) throw new Error("no idiom");
    expect(await importDocument(idiom.text, "lead")).toMatchObject({ version: 1, unchanged: true });
    expect(await importDocument(`${idiom.text}\n# looked at again\n`, "lead")).toMatchObject({
      version: 2,
      unchanged: false,
    });
    const broken =
      'document: release\nid: heddle-25\nfamily: Heddle\nversion: "25"\nstanding: candidate\nbuiltOn: "2026-11-01"\ninherits: nobody\nregion: { format: r, stale: refuse }\n';
    // the place of the name that leads nowhere, in the text
    await expect(importDocument(broken, "lead")).rejects.toMatchObject({
      problem: { code: "document-dangling", where: { line: 7 } },
    });
    expect((await loadCatalogue()).releases.has("heddle-25")).toBe(false);
  });

  it("an image says itself which release and target it is for; what the catalogue does not know is refused", async () => {
    expect(await importImage(imageFile("heddle-22", "TMOTE"), "lead")).toMatchObject({
      release_id: "heddle-22",
      target: "TMOTE",
    });
    const nettle = processorOf(await loadCatalogue(), "Nettle 20");
    const identity = { processor: nettle.id, regionFormat: "r", lengthBytes: nettle.identityOffset + 4096 };
    const stamped = (family: string, target: string) => {
      const bytes = new Uint8Array(identity.lengthBytes);
      stampIdentity(bytes, { ...identity, family, version: "22", target }, nettle.identityOffset, PLAIN_LAYOUT);
      return bytes;
    };
    expect(await codeOf(importImage(stamped("Heddle", "NOWHERE"), "lead"))).toBe("image-other");
    // the target is known, but of another processor
    expect(await codeOf(importImage(stamped("Heddle", "TMOTE"), "lead"))).toBe("image-other");
    expect(await codeOf(importImage(stamped("Nobody", "CSLATE-B"), "lead"))).toBe("release-unknown");
    expect(await codeOf(importImage(new Uint8Array(64_000), "lead"))).toBe("image-identity");
    expect(await codeOf(importImage(imageFile("heddle-22", "TMOTE").slice(0, 90_000), "lead"))).toBe("image-truncated");
  });
});
