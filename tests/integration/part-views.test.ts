import fc from "fast-check";
import { findTarget, firmwareById, layoutOf, LOADER_PART, processorOf } from "@/core/catalog";
import { compareTwo } from "@/core/compare";
import { settingsByAddress, type Value } from "@/core/config";
import { defaultConfiguration, idiomOf, reciteLines } from "@/core/idiom";
import { partAddress, partName } from "@/core/part";
import { valueOf } from "@/core/problem";
import { buildImage } from "@/core/sim";
import { closeDb, getDb } from "@/server/db";
import { fileBackup, partsWith } from "@/server/repositories/backups";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { giveBoard } from "@/server/repositories/boards";
import {
  beginCampaign,
  campaignById,
  campaignFor,
  changeCampaign,
  membersOfCampaign,
} from "@/server/repositories/campaigns";
import { campaignPlans } from "@/server/repositories/campaign-plans";
import { importDocuments, importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { find } from "@/server/repositories/find";
import { newestParts } from "@/server/repositories/fleet-parts";
import { fitParts } from "@/server/repositories/fittings";
import { addAircraft } from "@/server/repositories/fleet";
import { whatFits } from "@/server/repositories/image-fits";
import { impactOn } from "@/server/repositories/impact";
import { jobById, orderJob } from "@/server/repositories/jobs";
import { partsDriftOf, withoutAllowedParts } from "@/server/repositories/parts-drift";
import { allow, allowancesOf, keptByPolicy } from "@/server/repositories/policy";
import { fileMerged, raiseStandard } from "@/server/repositories/raise-standard";
import { readingsOf, sideChoices, sideOf } from "@/server/repositories/sides";
import { makeStandard, standardsOf } from "@/server/repositories/standards";
import { comparisonCsv, comparisonText } from "@/server/web/compare-export";
import { compareParts } from "@/server/web/compare-parts";
import { knownParts, partChanges } from "@/server/web/part-history";
import { compareThreeParts } from "@/server/web/three-parts";
import { demoDocuments } from "../../demo/documents";
import { asOwner, freshDatabase } from "../support/database";
import { demoAircraft } from "../support/parts";

/** The soak draws more. */
const RUNS = Number(process.env.SOAK ?? 25);
const KIND = "speed controllers";
const PLACES = ["front left", "front right", "rear left", "rear right"];
const name = (no: number) => partName(KIND, no);

let benchId = 0;
let fence = "";
const ids = new Map<string, number>();

beforeAll(async () => {
  await freshDatabase("part_views");
  benchId = await ensureBench();
  fence = await takeFence(benchId);
  await importDocuments(
    demoDocuments().map(({ text }) => text),
    "lead",
  );
  for (const tag of ["QW-01", "QW-02", "QW-04"]) {
    const aircraft = demoAircraft(tag);
    const id = await addAircraft({ tag, label: "", type: aircraft.type });
    ids.set(tag, id);
    const catalogue = await loadCatalogue();
    const { chipId, model: modelId, fitted = [] } = aircraft;
    const target = catalogue.models.get(modelId)?.target ?? "";
    await giveBoard(
      { chipId, modelId, target, releaseId: "heddle-22", tag, account: "lead", replace: false },
      catalogue,
    );
    for (const mount of fitted) await fitParts(id, mount, "lead");
  }
}, 120_000);
afterAll(closeDb);

interface Filed {
  readonly release: string;
  readonly target?: string;
  readonly set?: Readonly<Record<string, Value>>;
}

const idOf = (tag: string) => ids.get(tag) ?? 0;

/** What firmware with these settings would print. */
async function textOf({ release: id, target = "CSLATE-B", set = {} }: Filed, board: string): Promise<Uint8Array> {
  const catalogue = await loadCatalogue();
  const release = firmwareById(catalogue, id);
  const document = catalogue.idioms.get(release?.idiom ?? "");
  if (!release || !document) throw new Error(`there is no ${id}`);
  const { family, version, builtOn } = release;
  const bare = defaultConfiguration(release, target, { family, release: version, builtOn, target, board });
  for (const key of Object.keys(set)) if (!settingsByAddress(bare).has(key)) throw new Error(`${id} has no ${key}`);
  const settings = bare.settings.map((each) => ({ ...each, value: set[`${each.scope}/${each.key}`] ?? each.value }));
  return new TextEncoder().encode(
    `${reciteLines({ ...bare, settings }, release, idiomOf(document), "all").join("\n")}\n`,
  );
}

let minute = 0;
/** Files a read-out of a board and of those of its parts that are given, in their order; later ones are newer. */
async function fileAll(tag: string, board: Filed, parts: readonly Filed[]): Promise<number> {
  const takenAt = new Date(Date.now() - 86_400_000 + 60_000 * ++minute);
  const about = {
    tag,
    aircraftId: idOf(tag),
    jobId: null,
    chipId: null,
    source: "bay",
    account: "technician",
  } as const;
  const all = { ...about, takenAt, at: takenAt.toISOString() };
  const { id } = await fileBackup({ ...all, raw: await textOf(board, tag) });
  for (const [i, part] of parts.entries())
    await fileBackup({
      ...all,
      raw: await textOf({ target: "RIDGE-35", ...part }, `${tag} ${i + 1}`),
      part: { name: name(i + 1), place: PLACES[i] ?? "", withId: id },
    });
  return id;
}

/** Does something while stored bytes are others than they were. */
async function damaged(sha256: string, work: () => Promise<void>): Promise<void> {
  const write = (bytes: string) =>
    asOwner(
      `alter table blobs disable trigger user; update blobs set bytes = ${bytes} where sha256 = '${sha256}'; alter table blobs enable trigger user`,
    );
  const { bytes } = (await getDb().Blob.findOne({ where: { sha256 } })) ?? { bytes: new Uint8Array() };
  await write("'spoilt'");
  try {
    await work();
  } finally {
    await write(`'\\x${Buffer.from(bytes).toString("hex")}'`);
  }
}

const four = (release: string, set: Filed["set"] = {}): Filed[] => PLACES.map(() => ({ release, set }));
const H22: Filed = { release: "heddle-22" };

describe("what is behind the boards, in every view that looks at boards", () => {
  let [first, second, standardBackup] = [0, 0, 0];
  const off = { "system/lead angle": 11 };

  beforeAll(async () => {
    standardBackup = await fileAll("QW-02", H22, four("spindle-44"));
    first = await fileAll("QW-01", H22, four("spindle-44"));
    const odd = four("spindle-44");
    odd[2] = { release: "spindle-45", set: off };
    second = await fileAll("QW-01", H22, odd);
    await makeStandard("Sedge", standardBackup, "", "lead");
  });

  it("a part’s newest read-out is a side by its name, found by tag, place and what it runs", async () => {
    const side = await sideOf(`aircraft:QW-01/${name(3)}`);
    expect([side.title, side.part, side.release.id]).toEqual([
      "QW-01 rear left, newest read-out",
      name(3),
      "spindle-45",
    ]);
    expect((await sideOf("aircraft:QW-01")).part).toBeNull();
    await expect(sideOf(`aircraft:QW-01/${name(5)}`)).rejects.toMatchObject({ problem: { code: "side-bare" } });
    await expect(sideOf("aircraft:QW-01/")).rejects.toMatchObject({ problem: { code: "side-bare" } });
    const refs = async (query: string) => (await sideChoices(query)).map(({ ref }) => ref);
    expect(await refs("QW-01 rear left")).toContain(`aircraft:QW-01/${name(3)}`);
    expect(await refs("")).not.toContain(`aircraft:QW-01/${name(3)}`);
    const found = async (query: string) =>
      (await find(query)).flatMap(({ group, title }) => (group === "Behind the boards" ? [title] : []));
    expect(await found("qw-01 rear")).toEqual(["QW-01 rear left", "QW-01 rear right"]);
    expect(await found("spindle-45")).toEqual(["Which speed controllers are not Spindle 45"]);
    expect(await found("ridge-35")).toEqual(["Which speed controllers are built for RIDGE-35"]);
    expect(await found("100%")).toEqual([]);
    // the defaults of a part's release are something to compare with as well
    const defaults = await sideOf("defaults:spindle-45@RIDGE-35");
    const compared = compareTwo(side, defaults, await loadCatalogue());
    expect(valueOf(compared).differences.map(({ id }) => id)).toEqual(["system/lead angle"]);
  });

  it("each part has a history of its own, and the board’s says what changed behind it", async () => {
    const id = idOf("QW-01");
    expect((await readingsOf(id)).map((each) => each.id)).toEqual([first, second]);
    expect((await readingsOf(id, name(3))).map(({ release, withId }) => [release.id, withId])).toEqual([
      ["spindle-44", first],
      ["spindle-45", second],
    ]);
    const { changes, readWith } = await partChanges(id, await knownParts(id));
    expect(changes.map(({ name: part, place, withId }) => [part, place, withId])).toEqual([
      [name(3), "rear left", second],
    ]);
    expect(changes[0]?.says).toMatch(/^Spindle 44, built .* → Spindle 45, built .*, 3 values$/);
    expect([...readWith]).toEqual([
      [first, { read: 4, first: 4 }],
      [second, { read: 4, first: 0 }],
    ]);
  });

  it("case C68: a type’s parts are held against those of its standard; other firmware is off it, whatever the values", async () => {
    const tags = ["QW-01", "QW-02", "QW-04"];
    const [standard] = await standardsOf("Sedge");
    if (!standard) throw new Error("there is no standard");
    const drift = await partsDriftOf(standard, tags);
    expect([drift.held, drift.read, drift.unread]).toEqual([4, 8, [{ tag: "QW-04", places: PLACES }]]);
    const cells = drift.drift.rows.map(({ tag, cells: own }) => [tag, own.map(({ column }) => column).toSorted()]);
    expect(cells).toEqual([
      ["QW-01", ["Firmware", "system/heat ceiling", "system/lead angle"].map((id) => partAddress(name(3), id))],
      ["QW-02", []],
    ]);
    // what a lead allows on a part is of that part alone, and no job of the board keeps something by it
    const about = { type: "Sedge", reason: "On trial", account: "lead" };
    await allow({ ...about, kind: "place", name: partAddress(name(3), "system/lead angle") });
    await allow({ ...about, kind: "area", name: "outputs" });
    const allowances = await allowancesOf("Sedge");
    const left = withoutAllowedParts(drift, allowances).drift.rows.flatMap(({ cells: own }) =>
      own.map(({ shown }) => shown),
    );
    expect(left[0]).toBe("Spindle 45");
    expect(left).toHaveLength(2);
    expect((await keptByPolicy("Sedge", "QW-01")).keep).toEqual([]);
  });

  it("a standard that is raised takes its parts along; they are nobody’s newest read-out", async () => {
    const [before] = await standardsOf("Sedge");
    await raiseStandard(before?.id ?? 0, "heddle-23", "keep", "lead");
    const [standard] = await standardsOf("Sedge");
    if (!standard || standard.id === before?.id) throw new Error("it was not raised");
    const shas = async (id: number) => (await partsWith(id)).map(({ part, sha256 }) => [part, sha256]);
    expect(await shas(standard.backup_id)).toEqual(await shas(standardBackup));
    expect((await partsDriftOf(standard, ["QW-01", "QW-02"])).drift.rows.map(({ cells }) => cells.length)).toEqual([
      3, 0,
    ]);
    // what is merged of a part is not what was read of it
    const side = await sideOf(`aircraft:QW-02/${name(1)}`);
    const about = { tag: "QW-02 merged", aircraftId: idOf("QW-02"), account: "technician" };
    await fileMerged(side.configuration, side.release, { ...about, part: { name: name(1), place: "front left" } });
    expect((await sideOf(`aircraft:QW-02/${name(1)}`)).backupId).toBe(side.backupId);
    expect((await knownParts(idOf("QW-02"))).length).toBe(4);
  });

  it("case C73: a release of a part is weighed on all parts of its kind, each by where it is", async () => {
    const impact = await impactOn("spindle-45", "");
    expect(impact.aircraft.map(({ tag }) => tag)).toEqual([
      ...["front left", "front right", "rear right"].map((place) => `QW-01 ${place}`),
      ...PLACES.map((place) => `QW-02 ${place}`),
    ]);
    expect(impact.whose["QW-02 rear left"]).toMatchObject({ tag: "QW-02", part: name(3), place: "rear left" });
    expect((await impactOn("spindle-45", "Bulrush")).aircraft).toEqual([]);
    expect((await impactOn("heddle-23", "Sedge")).aircraft.map(({ tag }) => tag)).toEqual(["QW-01", "QW-02"]);
    await expect(impactOn("nothing-1", "")).rejects.toMatchObject({ problem: { code: "release-unknown" } });
  });

  it("an image that fits nothing of the workshop says so: neither a board, nor a part that was read or said", async () => {
    const catalogue = await loadCatalogue();
    const fits = await whatFits(catalogue);
    const does = (id: string, target: string) => {
      const release = firmwareById(catalogue, id);
      return release && fits(release, target);
    };
    expect([does("heddle-23", "CSLATE-B"), does("heddle-23", "TMOTE")]).toEqual([true, false]);
    expect([does("spindle-45", "RIDGE-35"), does("spindle-45", "RIDGE-20")]).toEqual([true, false]);
    const [loader] = [...catalogue.parts.values()].filter(({ part }) => part === LOADER_PART);
    const processors = new Set(["corsley-slate"].map((id) => catalogue.models.get(id)?.processor));
    for (const { id, processor } of loader?.targets ?? [])
      expect([id, does(loader?.id ?? "", id)]).toEqual([id, processors.has(processor)]);
  });

  it("three configurations and a comparison’s files say what is behind the boards", async () => {
    const [base, mine, theirs] = [
      await sideOf(`backup:${first}`),
      await sideOf(`backup:${second}`),
      await sideOf(`backup:${standardBackup}`),
    ];
    const three = await compareThreeParts(base, mine, theirs);
    expect(three.sentence).toBe("Behind the boards changed: rear left.");
    expect(three.triples.map(({ changed, conflicts }) => [changed, conflicts])).toEqual([
      [0, 0],
      [0, 0],
      [2, 0],
      [0, 0],
    ]);
    const bare = await compareThreeParts(base, mine, await sideOf("defaults:heddle-22@CSLATE-B"));
    expect(bare.sentence).toBe("Of what is behind the boards nothing is said.");
    const parts = await compareParts(mine, theirs);
    const compared = valueOf(compareTwo(mine, theirs, await loadCatalogue()));
    const rows = comparisonCsv(compared, parts).split("\r\n");
    expect(rows.filter((row) => row.startsWith("behind the boards"))).toHaveLength(4);
    expect(rows.find((row) => row.includes("rear left"))).toContain('"Spindle 45, RIDGE-35"');
    const text = comparisonText(compared, parts, "here", "there");
    expect(text).toContain("rear left (Spindle 45 against Spindle 44)");
    expect(text.match(/\[behind the boards\]/g)).toHaveLength(4);
  });

  it("a campaign brings every part of a kind to a release: who is there, what each meets, and the job of each", async () => {
    const goal = { kind: "parts", releaseId: "spindle-45" } as const;
    const wish = { type: "Sedge", goal, note: "", account: "lead" };
    await expect(beginCampaign({ ...wish, goal: { ...goal, releaseId: "heddle-23" } })).rejects.toMatchObject({
      problem: { code: "release-unknown" },
    });
    const id = await beginCampaign(wish);
    const campaign = await campaignById(id);
    if (!campaign) throw new Error("there is no campaign");
    expect(campaign.title).toBe("Spindle 45 for the speed controllers of every Sedge");
    const there = async () =>
      Object.fromEntries((await membersOfCampaign(campaign)).map(({ tag, isThere }) => [tag, isThere]));
    expect(await there()).toEqual({ "QW-01": false, "QW-02": false, "QW-04": false });
    const plans = await campaignPlans(id);
    expect(plans.map(({ tag, problem }) => [tag, problem?.code])).toEqual([
      ["QW-01", undefined],
      ["QW-02", undefined],
      // never read at all
      ["QW-04", "backup-none"],
    ]);
    // one that was fitted since, and never read, is told beside what the others meet
    const five = { part: KIND, title: "speed controller", supply: "battery" as const };
    const places = ["front left", "front right", "rear left", "rear right"];
    await fitParts(idOf("QW-01"), { ...five, places: [...places, "tail"], target: "RIDGE-35" }, "lead");
    const [first] = await campaignPlans(id);
    expect([first?.tag, first?.problem, first?.unread, first?.changed]).toEqual([
      ...["QW-01", undefined, ["tail"], plans[0]?.changed],
    ]);
    await fitParts(idOf("QW-01"), { ...five, places, target: "RIDGE-35" }, "lead");

    const catalogue = await loadCatalogue();
    const release = catalogue.parts.get("spindle-45");
    const target = release && findTarget(release, "RIDGE-35");
    if (!release || !target) throw new Error("nothing is built for it");
    const processor = processorOf(catalogue, target.processor);
    const seen = { mark: "ok", say: "Answers", presence: "console", aircraftId: idOf("QW-01") } as const;
    const { chipId } = demoAircraft("QW-01");
    await writeLive(benchId, fence, 1, { ...seen, chipId, target: "CSLATE-B", family: "Heddle", release: "22" });
    const order = () =>
      orderJob({
        ...{ bayNo: 1, aircraftId: idOf("QW-01"), account: "technician" },
        goal: { kind: "campaign", campaignId: id },
      });
    // without an image nothing is ordered
    await expect(order()).rejects.toMatchObject({ problem: { code: "image-none" } });
    await importImage(buildImage(release, target, processor, layoutOf(catalogue, release)), "lead");
    expect((await campaignFor(idOf("QW-01")))?.turn).toBe(1);
    const job = await jobById(await order());
    expect(job?.goal.runs).toEqual({
      main: "heddle-22",
      // the one that runs it is read with the others, and not written
      ...Object.fromEntries([1, 2, 4].map((no) => [name(no), "spindle-45"])),
    });
    expect(await getDb().CampaignJob.count({ where: { campaign_id: id } })).toBe(1);

    await fileAll("QW-02", H22, four("spindle-45"));
    expect(await there()).toMatchObject({ "QW-02": true });
    // one of them somebody takes for another kind of aircraft: without such parts nothing is left to do
    const none = { part: KIND, title: "speed controller", places: [], supply: "battery" as const };
    await fitParts(idOf("QW-04"), none, "lead");
    expect(await there()).toMatchObject({ "QW-04": true });
    await changeCampaign(id, "ended", "Enough", "lead");
  });

  it("whatever is behind a board: it is off its standard where, and only where, the two compared say that they are not alike", async () => {
    const [standard] = await standardsOf("Sedge");
    if (!standard) throw new Error("there is no standard");
    const part = fc.record({
      release: fc.constantFrom("spindle-44", "spindle-44", "spindle-45", "spindle-41"),
      target: fc.constantFrom("RIDGE-35", "RIDGE-35", "RIDGE-35", "RIDGE-20"),
      set: fc.constantFrom({}, {}, { "system/lead angle": 12 }, { "system/voice": 33 }, { "system/serial": 7 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(part, { minLength: 1, maxLength: 4 }), async (parts) => {
        const board = await fileAll("QW-04", H22, parts);
        const { drift } = await partsDriftOf(standard, ["QW-04"]);
        // parts that this read-out is without were read before, perhaps: of those the comparison says nothing
        const mine =
          drift.rows[0]?.cells.filter(({ column }) =>
            parts.some((_, i) => column.startsWith(partAddress(name(i + 1), ""))),
          ) ?? [];
        const { pairs } = await compareParts(await sideOf(`backup:${board}`), await sideOf(`backup:${standardBackup}`));
        const otherwise = pairs.flatMap((pair) => (pair.alike === false ? [pair.name] : []));
        expect(new Set(mine.map(({ column }) => column.slice(0, column.indexOf(":"))))).toEqual(new Set(otherwise));
      }),
      { numRuns: RUNS },
    );
  });

  it("a part whose bytes are damaged is told as such wherever it is asked for, and all else is shown", async () => {
    const [standard] = await standardsOf("Sedge");
    if (!standard) throw new Error("there is no standard");
    await fileAll("QW-01", H22, [{ release: "spindle-44", set: { "system/lead angle": 7, "system/start push": 3 } }]);
    const lost = (await newestParts("Sedge")).find(({ tag, part }) => tag === "QW-01" && part === name(1));
    await damaged(lost?.sha256 ?? "", async () => {
      const { unread, drift } = await partsDriftOf(standard, ["QW-01", "QW-02"]);
      expect(unread).toContainEqual({ tag: "QW-01", places: ["front left"] });
      expect(drift.rows.map(({ tag }) => tag)).toEqual(["QW-01", "QW-02"]);
      const { aircraft } = await impactOn("spindle-41", "Sedge");
      const broken = aircraft.filter(({ problem }) => problem?.code === "blob-damaged").map(({ tag }) => tag);
      expect(broken).toEqual(["QW-01 front left"]);
      expect(aircraft.length).toBeGreaterThan(4);
    });
    // another version of the standard is made all the same, without it
    const [first] = await partsWith(standard.backup_id);
    await damaged(first?.sha256 ?? "", async () => {
      await raiseStandard(standard.id, "heddle-24", "keep", "lead");
      const [raised] = await standardsOf("Sedge");
      expect(raised?.version).toBe(standard.version + 1);
      const shas = (await partsWith(raised?.backup_id ?? 0)).map(({ sha256 }) => sha256);
      expect(shas).not.toContain(first?.sha256);
    });
  });

  it("of three, equal values on other firmware, or on what is built for something else, are not nothing", async () => {
    const base = await sideOf(`backup:${first}`);
    const other = await fileAll(
      "QW-01",
      H22,
      four("spindle-44").with(1, { release: "spindle-44", target: "RIDGE-20" }),
    );
    const { sentence, triples } = await compareThreeParts(base, await sideOf(`backup:${other}`), base);
    expect([sentence, triples[1]?.changed]).toEqual(["Behind the boards changed: front right.", 0]);
  });
});
