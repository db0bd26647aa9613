import { runJob } from "@/bench/runner";
import { orderOf, pgStore } from "@/bench/pg-store";
import { currentStep, foldJob, planOfJobParts, type JobState } from "@/core/job";
import { openItems } from "@/core/carryover";
import { checkPapers, readArchive } from "@/core/papers";
import { partName } from "@/core/part";
import { valueOf } from "@/core/problem";
import { buildImage } from "@/core/sim";
import { defaultConfiguration, reciteLines } from "@/core/idiom";
import { findTarget, layoutOf, processorOf } from "@/core/catalog";
import { verifyChain } from "@/server/chain";
import { closeDb, getDb } from "@/server/db";
import {
  backupById,
  fileBackup,
  backupsOf,
  lastComplete,
  newestOfParts,
  partsWith,
} from "@/server/repositories/backups";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { giveBoard } from "@/server/repositories/boards";
import { importDocuments, importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { toZip } from "@/server/repositories/exports";
import { fitParts, partStates } from "@/server/repositories/fittings";
import { addAircraft, aircraftById } from "@/server/repositories/fleet";
import { partsOfFleet } from "@/server/repositories/fleet-parts";
import { jobById, orderJob } from "@/server/repositories/jobs";
import { sideOf } from "@/server/repositories/sides";
import { visitPapers } from "@/server/repositories/visit-papers";
import { abilityChoices } from "@/server/web/ability-view";
import { compareParts } from "@/server/web/compare-parts";
import { keptTogether } from "@/server/web/kept-together";
import { partChoices, partsView } from "@/server/web/parts-view";
import { proofOfJob } from "@/server/web/proof-view";
import { readJob } from "@/server/web/job-view";
import { demoDocuments } from "../../demo/documents";
import type { DemoAircraft } from "../../demo/fleet";
import { freshDatabase } from "../support/database";
import { batteryHands, boardOf, demoAircraft } from "../support/parts";
import { statementIdiom } from "../support/workshop";

const KIND = "speed controllers";
let benchId = 0;
let fence = "";

beforeAll(async () => {
  await freshDatabase("parts");
  benchId = await ensureBench();
  await importDocuments(
    demoDocuments().map(({ text }) => text),
    "lead",
  );
  const catalogue = await loadCatalogue();
  for (const release of catalogue.parts.values())
    for (const target of release.targets.filter(({ id }) => id === "RIDGE-35")) {
      const processor = processorOf(catalogue, target.processor);
      await importImage(buildImage(release, target, processor, layoutOf(catalogue, release)), "lead");
    }
  fence = await takeFence(benchId);
}, 120_000);
afterAll(closeDb);

/** An aircraft of the demo with its board in bay 1, as a bench would show it. */
async function onBench(tag: string, version?: string, change: Partial<DemoAircraft> = {}) {
  const made = await boardOf(tag, change);
  const { aircraft } = made;
  const aircraftId = await addAircraft({ tag, label: "", type: aircraft.type });
  const { chipId, model: modelId, release: releaseId } = aircraft;
  const target = (await loadCatalogue()).models.get(modelId)?.target ?? "";
  await giveBoard({ chipId, modelId, target, releaseId, tag, account: "lead", replace: false }, await loadCatalogue());
  for (const mount of aircraft.fitted ?? []) await fitParts(aircraftId, mount, "lead");
  const [family, release] = ["Heddle", version ?? releaseId.replace("heddle-", "")];
  const seen = { mark: "ok", say: "Answers", presence: "console", aircraftId, chipId, target } as const;
  await writeLive(benchId, fence, 1, { ...seen, family, release });
  return { ...made, aircraftId };
}

/** Puts an image of a release of the main part into the workshop. */
async function importMain(releaseId: string, target: string): Promise<void> {
  const catalogue = await loadCatalogue();
  const release = catalogue.releases.get(releaseId);
  const built = release && findTarget(release, target);
  if (!release || !built) throw new Error(`${releaseId} is not built for ${target}`);
  const processor = processorOf(catalogue, built.processor);
  await importImage(buildImage(release, built, processor, layoutOf(catalogue, release)), "lead");
}

/** An order that is not begun is stopped. */
async function endJob(id: number): Promise<void> {
  const job = await jobById(id);
  if (!job) throw new Error("there is no such job");
  const store = pgStore({ job, fence, beforeAppend: () => Promise.resolve() });
  await store.append({ kind: "stopped", reason: "Something else comes first" }, "technician");
}

/** Orders a job for the parts of an aircraft, and does at the bench what its card asks for. */
async function runParts(
  made: Awaited<ReturnType<typeof onBench>>,
  runs: Readonly<Record<string, string>>,
  sources?: Readonly<Record<string, number>>,
) {
  const { aircraftId, board, link } = made;
  const goal = { kind: "parts", runs, ...(sources ? { sources } : {}) } as const;
  const id = await orderJob({ bayNo: 1, aircraftId, goal, account: "technician" });
  const job = await jobById(id);
  if (!job) throw new Error("the job was not ordered");
  const store = pgStore({ job, fence, beforeAppend: () => Promise.resolve() });
  await store.append({ kind: "ordered", headline: job.headline }, "technician");
  const obey = async (state: JobState) => {
    const need = currentStep(state)?.need;
    const step = currentStep(state)?.id ?? "plan";
    if (need?.kind === "confirm") await store.append({ kind: "confirmed", step }, "technician");
    else if (need?.kind === "take") await store.append({ kind: "taken" }, "technician");
    else if (need?.kind === "sign") await store.append({ kind: "signed", statement: need.say }, "technician");
    else if (need?.kind === "decisions") {
      const plan = await planOfJobParts(job.goal, state, (order) => store.plan(order));
      const choices = Object.fromEntries(
        (plan ? openItems(plan, {}) : []).map((item) => [item.id, item.choices[0]?.id ?? ""]),
      );
      await store.append({ kind: "decided", choices }, "technician");
    } else throw new Error(`it waits: ${JSON.stringify(currentStep(state))}`);
  };
  const stop = new AbortController();
  const end = await runJob({
    job: orderOf(job),
    store,
    link,
    signal: stop.signal,
    onWait: async () => obey(foldJob(job.steps, await store.entries())),
    progress: (progress) => {
      if (progress?.ask) batteryHands(progress.ask, board, link);
    },
  });
  return { id, end };
}

describe("parts of an aircraft, from order to record", () => {
  it("cases C94, C64: read out with the board, kept with it, told in sheet, list and fleet; then brought to one release", async () => {
    const made = await onBench("QW-04");
    const { aircraftId } = made;
    const read = await runParts(made, {});
    expect(read.end).toBe("finished");
    const main = await lastComplete(aircraftId);
    const withIt = await partsWith(main?.id ?? 0);
    expect(withIt.map(({ part, verdict, release_id }) => [part, verdict, release_id])).toEqual(
      [1, 2, 3, 4].map((no) => [partName(KIND, no), "complete", no === 3 ? "spindle-41" : "spindle-44"]),
    );
    // what is asked of an aircraft's backups is asked of its main part
    expect((await backupsOf(aircraftId)).map(({ id }) => id)).toEqual([main?.id]);
    const row = await aircraftById(aircraftId);
    const catalogue = await loadCatalogue();
    const view = await partsView(aircraftId, row?.model_id ?? null, catalogue.releases.get(row?.release_id ?? ""));
    expect(view.sentence).toBe(
      "The speed controller, rear left, is the odd one out. Firmware: Spindle 41, the others Spindle 44.",
    );
    expect((await partsOfFleet()).filter(({ odd }) => odd.length > 0).map(({ place }) => place)).toEqual(["rear left"]);
    // a part's read-out is compared like any other
    const side = await sideOf(`backup:${withIt[2]?.id ?? 0}`);
    expect(side.release.id).toBe("spindle-41");

    const all = Object.fromEntries([1, 2, 3, 4].map((no) => [partName(KIND, no), "spindle-45"]));
    const written = await runParts(made, all);
    expect(written.end).toBe("finished");
    expect((await newestOfParts(aircraftId)).map(({ release_id }) => release_id)).toEqual(Array(4).fill("spindle-45"));
    // of one release now; what somebody left as it was on one of them is still told
    const { odd } = await partStates(aircraftId, row?.model_id ?? null);
    expect(new Set(odd.map(({ part, what }) => `${part.place}: ${what}`))).toEqual(
      new Set(["rear left: Lead angle", "rear left: Most current"]),
    );
    const job = await readJob(written.id);
    const proof = job && (await proofOfJob(job));
    expect(proof?.proof.counts).toMatchObject({ refused: 0, missing: 0, adjusted: 0 });
    expect(new Set(proof?.lines.flatMap(({ title }) => title.split(", ").slice(1)))).toEqual(
      new Set(["front left", "front right", "rear left", "rear right"]),
    );
    for (const { backupId, backupLine, before } of proof?.lines ?? [])
      if (backupLine > 0) {
        const text = new TextDecoder().decode((await backupById(backupId)).raw).split("\n")[backupLine - 1] ?? "";
        expect([before, text.length > 0]).toEqual([before, true]);
      }
    expect((await toZip("QW-04")).length).toBeGreaterThan(1000);

    // what is behind the boards is compared with them, and which part makes the difference is said
    await runParts(made, {});
    const boards = (await backupsOf(aircraftId)).map(({ id }) => id).toSorted((a, b) => a - b);
    const [before, after] = [await sideOf(`backup:${boards[0] ?? 0}`), await sideOf(`backup:${boards.at(-1) ?? 0}`)];
    const compared = await compareParts(before, after);
    expect(compared.sentence).toBe(
      "Behind the boards they are not alike: front left (Spindle 44 against Spindle 45), front right (Spindle 44 against Spindle 45), rear left (Spindle 41 against Spindle 45), rear right (Spindle 44 against Spindle 45).",
    );
    expect((await compareParts(before, before)).sentence).toBe("Behind the boards 4 parts are alike.");
    const bare = await compareParts(before, await sideOf("defaults:heddle-22@CSLATE-B"));
    expect(bare.sentence).toBe("Nothing is said of 4 parts that a side was read out without.");
    expect(new Set(bare.pairs.map(({ alike, differs }) => [alike, differs].join()))).toEqual(new Set([","]));
  }, 120_000);

  it("a part is set up as another of its kind, or as itself before: what belongs to its place stays its own", async () => {
    const runs = (demoAircraft("QW-02").runs?.[KIND] ?? []).map((part, i) =>
      i === 1 ? { ...part, values: { ...part.values, "lead angle": 11, "start push": 12 } } : part,
    );
    const made = await onBench("QW-02", undefined, { runs: { [KIND]: runs } });
    await runParts(made, {});
    const newest = async (no: number) =>
      (await newestOfParts(made.aircraftId)).find(({ part }) => part === partName(KIND, no));
    const values = async (backupId: number) =>
      new Map((await sideOf(`backup:${backupId}`)).configuration.settings.map(({ key, value }) => [key, value]));
    const [first, second] = [(await newest(1))?.id ?? 0, (await newest(2))?.id ?? 0];
    const [was, like] = [await values(first), await values(second)];
    const own = new Set(["turning way", "serial"]);
    expect([...own].map((key) => was.get(key) === like.get(key))).toContain(false);
    const order = (sources: Readonly<Record<string, number>>, to = "spindle-45") =>
      runParts(made, { [partName(KIND, 1)]: to }, sources);
    for (const [sources, code] of [
      [{ [partName(KIND, 2)]: first }, "part-unwritten"],
      [{ [partName(KIND, 1)]: (await lastComplete(made.aircraftId))?.id ?? 0 }, "backup-other"],
      [{ [partName(KIND, 1)]: 99_999 }, "backup-other"],
    ] as const)
      await expect(order(sources)).rejects.toMatchObject({ problem: { code } });

    expect((await order({ [partName(KIND, 1)]: second })).end).toBe("finished");
    const after = await values((await newest(1))?.id ?? 0);
    const wanted = await values((await newest(2))?.id ?? 0);
    for (const [key, value] of wanted) {
      if (!after.has(key)) continue;
      expect([key, after.get(key)]).toEqual([key, own.has(key) ? was.get(key) : value]);
    }
    // and back to what it was, by its own read-out of before: now its place comes along as well
    expect((await order({ [partName(KIND, 1)]: first }, "spindle-44")).end).toBe("finished");
    const back = await values((await newest(1))?.id ?? 0);
    for (const [key, value] of was) expect([key, back.get(key)]).toEqual([key, value]);
  }, 180_000);

  it("what a read-out is without is said, each with its reason, by what was fitted then", async () => {
    const all = await partsOfFleet();
    const { row } = await backupById(all[0]?.backupId ?? 0);
    const board = await backupById(row.with_id ?? 0);
    const whole = await keptTogether(board.row);
    expect([whole.read.length, whole.missed]).toEqual([4, []]);
    const { part, aircraft_id, release_id, taken_at } = board.row;
    const alone = { id: 0, part, aircraft_id, release_id, taken_at };
    const whys = async (more: Partial<typeof alone>) => [
      ...new Set((await keptTogether({ ...alone, ...more })).missed.map(({ why }) => why)),
    ];
    expect(await whys({})).toEqual(["Nobody asked for it, and without the battery it has no supply"]);
    expect(await whys({ release_id: "heddle-19" })).toEqual(["Heddle 19 opens no line to the speed controllers"]);
    expect(await whys({ taken_at: new Date(2020, 0) })).toEqual([]);
    expect(await whys({ part: row.part })).toEqual([]);
  });

  it("its papers hold every part, and the record proves itself", async () => {
    // of a visit that only read there is no signature: nothing was changed that somebody answers for
    const visits = await getDb().Job.findAll({ where: { state: "finished" }, order: ["id"] });
    expect(visits.map(({ goal }) => Object.keys(goal).includes("runs"))).toEqual(Array(6).fill(true));
    for (const { id } of visits) {
      const { bytes } = await visitPapers(id, { "visit.html": new Uint8Array([60]) });
      expect([id, (await checkPapers(valueOf(readArchive(bytes)))).faults]).toEqual([id, []]);
    }
    expect((await verifyChain()).faults).toEqual([]);
  });

  it("cases C39, C40: what cannot be is refused before anything is touched, and says what would", async () => {
    const made = await onBench("QW-05");
    const order = (runs: Readonly<Record<string, string>>) =>
      orderJob({ bayNo: 1, aircraftId: made.aircraftId, goal: { kind: "parts", runs }, account: "technician" });
    await expect(order({ [partName(KIND, 5)]: "spindle-45" })).rejects.toMatchObject({
      problem: { code: "part-none" },
    });
    await expect(order({ [partName(KIND, 1)]: "pirn-5" })).rejects.toMatchObject({
      problem: { code: "release-unknown" },
    });
    await writeLive(benchId, fence, 1, {
      ...{ mark: "ok", say: "Answers", presence: "console", aircraftId: made.aircraftId, chipId: made.aircraft.chipId },
      ...{ target: "CSLATE-B", family: "Heddle", release: "19" },
    });
    // without an image of what it runs there would be no way back: nothing is offered
    await expect(order({})).rejects.toMatchObject({ problem: { code: "line-none" } });
    expect((await partChoices(1)).detours).toEqual([]);
    await importMain("heddle-22", "CSLATE-B");
    expect((await partChoices(1)).detours).toEqual([]);
    await importMain("heddle-19", "CSLATE-B");
    await expect(order({})).rejects.toMatchObject({
      problem: { code: "line-none", detail: expect.stringContaining("Heddle 22") as string },
    });
    const { detours } = await partChoices(1);
    expect(detours.map(({ releaseId, instead }) => [releaseId, instead])).toEqual([["heddle-22", undefined]]);
    const by = (detour: string) =>
      orderJob({
        ...{ bayNo: 1, aircraftId: made.aircraftId, account: "technician" },
        goal: { kind: "parts", runs: {}, detour },
      });
    // another release opens lines as well, and the workshop cannot write it
    await expect(by("heddle-23")).rejects.toMatchObject({ problem: { code: "detour-none" } });
    await expect(by("nothing-9")).rejects.toMatchObject({ problem: { code: "detour-none" } });
    const job = await jobById(await by("heddle-22"));
    expect(job?.goal).toMatchObject({ detour: { releaseId: "heddle-22", title: "Heddle 22", target: "CSLATE-B" } });
    await endJob(job?.id ?? 0);
  });

  it("case C40: where no release is built for the board, a neighbour’s is offered that has its gyro and its outputs", async () => {
    await importMain("heddle-22-pellow", "PSLUICE-X");
    // one that looks for its gyro, and has other outputs: it does not reach what hangs on them
    await importMain("heddle-22", "FHARROW");
    const made = await onBench("QW-08", "22p");
    expect((await partChoices(1)).detours).toEqual([]);
    await importMain("heddle-22", "PSLUICE");
    expect((await partChoices(1)).detours).toMatchObject([
      { releaseId: "heddle-22", instead: { target: "PSLUICE", pads: ["LED", "R4"] } },
    ]);
    // stopped in between, it goes back to its own target, and not to that of what is on it
    const { aircraftId, aircraft } = made;
    const own = (await loadCatalogue()).releases.get(aircraft.release);
    if (!own) throw new Error("the catalogue has not what it runs");
    const as = { family: "Heddle", release: "22p", target: "PSLUICE-X", chipId: aircraft.chipId };
    const text = `${reciteLines(defaultConfiguration(own, as.target, as), own, statementIdiom(), "all").join("\n")}\n`;
    const filed = await fileBackup({
      ...{ raw: new TextEncoder().encode(text), tag: "QW-08", aircraftId, jobId: null, chipId: aircraft.chipId },
      ...{ source: "job", account: "technician", at: "2026-11-30 10:00" },
    });
    await writeLive(benchId, fence, 1, {
      ...{ mark: "ok", say: "Answers", presence: "console", aircraftId, chipId: aircraft.chipId },
      ...{ target: "PSLUICE", family: "Heddle", release: "22" },
    });
    const goal = { kind: "set-up", backupId: filed.id, releaseId: "heddle-22-pellow", parts: {} } as const;
    const id = await orderJob({ bayNo: 1, aircraftId, goal, account: "technician" });
    expect((await jobById(id))?.goal).toMatchObject({ kind: "set-up", flashes: true, asModel: true });
    await endJob(id);
  });

  it("case C96: an ability that cannot be had says why; one that is there needs nothing; else the job is for what is missing", async () => {
    const made = await onBench("QW-01");
    const order = () =>
      orderJob({
        ...{ bayNo: 1, aircraftId: made.aircraftId, account: "technician" },
        goal: { kind: "ability", ability: "turn-over" },
      });
    const states = async () =>
      Object.fromEntries((await abilityChoices(1))[0]?.needs.map(({ says, state }) => [says, state]) ?? []);
    const without = Object.keys(await states());
    expect(without[0]).toBe(
      "Heddle 23, Heddle 24, Heddle 30 know it, and the workshop has no image of them for CSLATE-B",
    );
    await expect(order()).rejects.toMatchObject({ problem: { code: "ability-out-of-reach", detail: without[0] } });
    await importMain("heddle-23", "CSLATE-B");
    expect(await states()).toMatchObject({
      "Heddle 22 does not know it; Heddle 23 does": "to-do",
      "Speed controllers, all: never read out → Spindle 45. Only since 45 they turn backwards when they are asked to":
        "to-do",
    });
    const job = await jobById(await order());
    expect(job?.goal).toMatchObject({ kind: "ability", flashes: true, runs: { main: "heddle-23" } });
    expect(Object.values(job?.goal.runs ?? {}).filter((id) => id === "spindle-45")).toHaveLength(4);
    await endJob(job?.id ?? 0);
    await expect(
      orderJob({
        ...{ bayNo: 1, aircraftId: made.aircraftId, account: "technician" },
        goal: { kind: "ability", ability: "hover-on-its-head" },
      }),
    ).rejects.toMatchObject({ problem: { code: "ability-none" } });
    // register and part disagree on the power stage: nothing is written over that
    const rear = { part: KIND, title: "speed controller", places: ["front left"], supply: "battery" as const };
    await fitParts(made.aircraftId, rear, "lead");
    expect(Object.keys(await states())).toContain(
      "Speed controllers, front left: nobody knows what it is built for: say so on the aircraft’s sheet",
    );
    await fitParts(made.aircraftId, { ...rear, places: [] }, "lead");
    expect(Object.keys(await states())).toContain(
      "Nobody has said which speed controllers QW-01 has: say so on its sheet",
    );
    await expect(order()).rejects.toMatchObject({ problem: { code: "ability-out-of-reach" } });
  });
});
