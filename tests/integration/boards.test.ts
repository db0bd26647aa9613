import { giveKnownBoard } from "@/bench/between-jobs";
import { ProblemError } from "@/core/problem";
import { closeDb } from "@/server/db";
import { ensureBench, takeFence, writeLive } from "@/server/repositories/bench";
import { orderJob, type JobWish } from "@/server/repositories/jobs";
import { releaseChoices } from "@/server/repositories/release-choices";
import { backupsOf, fileBackup } from "@/server/repositories/backups";
import {
  boardlessTags,
  boardsByChip,
  boardsByLoader,
  giveBoard,
  movesOf,
  type BoardGift,
} from "@/server/repositories/boards";
import { importDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { groundingsOf } from "@/server/repositories/groundings";
import { addAircraft, aircraftByTag } from "@/server/repositories/fleet";
import { run } from "@/server/sql";
import { demoDocuments } from "../../demo/documents";
import { slateReadout } from "../support/workshop";
import { asOwner, codeOf, freshDatabase, giveSlate } from "../support/database";

/** What a bay sees of it is nothing that says which board it is. */
const NOTHING_SEEN = { kind: "none" } as const;
const CHIP = "AB12-0001-77F0";
const OTHER = "AB12-0002-77F1";
const DOUBLED = "AB12-0003-0000";
const ids = new Map<string, number>();
const idOf = (tag: string) => ids.get(tag) ?? 0;

beforeAll(async () => {
  await freshDatabase("boards");
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  for (const tag of ["QW-81", "QW-82", "QW-83"]) ids.set(tag, await addAircraft({ tag, label: "", type: "Sedge" }));
}, 60_000);
afterAll(closeDb);

const give = async (tag: string, more: Partial<BoardGift> = {}) =>
  giveBoard(
    {
      chipId: CHIP,
      modelId: "corsley-slate",
      target: "CSLATE-B",
      releaseId: "heddle-22",
      tag,
      account: "technician",
      replace: false,
      ...more,
    },
    await loadCatalogue(),
  );
const problemOf = (work: Promise<unknown>) =>
  work.then(
    () => undefined,
    (error: unknown) => (error instanceof ProblemError ? error.problem : error),
  );
const ownerOf = async (chipId: string) => (await boardsByChip(chipId)).map((board) => board.tag);
const inService = (tag: string) =>
  run("update aircraft set state = 'in-service', state_reason = '' where id = $1", [idOf(tag)]);

const file = (chipId: string, label: string) =>
  fileBackup({
    raw: slateReadout("all", { chipId, board: label }),
    tag: label,
    aircraftId: null,
    jobId: null,
    chipId,
    source: "bay",
    account: "technician",
    at: "2026-11-02T08:15:00Z",
    takenAt: new Date("2026-11-02T08:15:00Z"),
  });

describe("whose a board is", () => {
  it("a new board is given to an aircraft by name; its read-outs that belonged to nobody come with it", async () => {
    const { id: ownerless } = await file(CHIP, "Corsley Slate");
    expect(await boardlessTags()).toEqual(["QW-81", "QW-82", "QW-83"]);
    await give("QW-81");
    expect(await ownerOf(CHIP)).toEqual(["QW-81"]);
    expect(await boardlessTags()).toEqual(["QW-82", "QW-83"]);
    expect(await aircraftByTag("QW-81")).toMatchObject({
      model_id: "corsley-slate",
      release_id: "heddle-22",
      state: "out-of-service",
      state_reason: "No job was signed off on its board yet",
      last_verdict: "complete",
    });
    const [brought, ...others] = await backupsOf(idOf("QW-81"));
    expect(others).toEqual([]);
    expect(brought).toMatchObject({ name: "QW-81 Heddle 22 2026-11-02 08:15", taken_by: "technician" });
    expect(brought?.id).not.toBe(ownerless);
    expect(await movesOf(idOf("QW-81"))).toMatchObject([{ chip_id: CHIP, from_tag: null, account: "technician" }]);
  });

  it("the same once more corrects its model, and grounds nobody", async () => {
    await inService("QW-81");
    await give("QW-81", { modelId: "corsley-slate-lite" });
    expect(await aircraftByTag("QW-81")).toMatchObject({ model_id: "corsley-slate-lite", state: "in-service" });
    expect(await backupsOf(idOf("QW-81"))).toHaveLength(1);
    await give("QW-81");
  });

  it("case C58: a board moves to another aircraft only when that is said; both stay on the ground", async () => {
    expect(await codeOf(give("QW-82"))).toBe("board-taken");
    expect(await ownerOf(CHIP)).toEqual(["QW-81"]);
    await give("QW-82", { replace: true, account: "lead" });
    expect(await ownerOf(CHIP)).toEqual(["QW-82"]);
    expect(await aircraftByTag("QW-81")).toMatchObject({
      chip_id: null,
      state: "out-of-service",
      state_reason: "Its board flies on QW-82 now",
    });
    expect(await movesOf(idOf("QW-81"))).toMatchObject([
      { tag: "QW-82", from_tag: "QW-81", account: "lead" },
      {},
      {},
      {},
    ]);
    // what was read out while it was QW-81's stays QW-81's
    expect(await backupsOf(idOf("QW-82"))).toEqual([]);
    expect(await backupsOf(idOf("QW-81"))).toHaveLength(1);
  });

  it("a board that takes another's place leaves that one without an aircraft", async () => {
    expect(await codeOf(give("QW-82", { chipId: OTHER }))).toBe("aircraft-has-board");
    await give("QW-82", { chipId: OTHER, replace: true });
    expect([await ownerOf(CHIP), await ownerOf(OTHER)]).toEqual([[null], ["QW-82"]]);
    expect(await aircraftByTag("QW-82")).toMatchObject({ chip_id: OTHER });
  });

  it("nobody's aircraft, an open job and a doubled chip id are refused, and nothing is half done", async () => {
    expect(await codeOf(give("QW-99"))).toBe("aircraft-none");
    await run("update aircraft set state = 'on-bench' where id = $1", [idOf("QW-83")]);
    expect(await codeOf(give("QW-83"))).toBe("aircraft-busy");
    await inService("QW-83");
    // nor may a board be taken from under a job of the aircraft that it is on
    await run("update aircraft set state = 'on-bench' where id = $1", [idOf("QW-82")]);
    expect(await codeOf(give("QW-83", { chipId: OTHER, replace: true }))).toBe("aircraft-busy");
    expect(await ownerOf(OTHER)).toEqual(["QW-82"]);
    await inService("QW-82");
    await run(
      "insert into boards (chip_id, model_id, target) values ($1, 'corsley-slate', 'CSLATE-B'), ($1, 'tamsin-mote', 'TMOTE')",
      [DOUBLED],
    );
    expect(await codeOf(give("QW-83", { chipId: DOUBLED }))).toBe("chip-doubled");
    expect(await aircraftByTag("QW-83")).toMatchObject({ chip_id: null, state: "in-service" });
    expect(await movesOf(idOf("QW-83"))).toEqual([]);
  });

  it("both ends of a move are told at once, before anybody says it again", async () => {
    await giveSlate("QW-83", "AB12-0008-0001");
    const told = await problemOf(give("QW-83", { chipId: OTHER }));
    expect(told).toMatchObject({
      code: "board-taken",
      detail: `Chip ${OTHER}; QW-82 would have no board then, and the board of QW-83, chip AB12-0008-0001, no aircraft`,
    });
    await run("update boards set aircraft_id = null where chip_id = 'AB12-0008-0001'");
  });

  it("two at once: the board ends with one of them, and the other is told", async () => {
    const results = await Promise.all([
      codeOf(giveSlate("QW-81", "AB12-0009-0001")),
      codeOf(giveSlate("QW-83", "AB12-0009-0001")),
    ]);
    expect(results.toSorted()).toEqual(["board-taken", "ok"]);
    expect(await ownerOf("AB12-0009-0001")).toHaveLength(1);
  });

  it("what was said of a board can neither be changed nor taken back", async () => {
    expect(await codeOf(asOwner("update board_moves set account = 'nobody'"))).toContain("append-only");
    expect(await codeOf(asOwner("delete from board_moves"))).toContain("append-only");
  });
});

describe("case C46: a board that says only its loader's id", () => {
  it("is of the one board of the register that the id can be derived from; of several, it is nobody's until they say", async () => {
    const catalogue = await loadCatalogue();
    const owners = async (id: string) => (await boardsByLoader(id, catalogue)).map(({ tag }) => tag);
    const mote = { modelId: "tamsin-mote", target: "TMOTE" };
    for (const [tag, chipId] of [
      ["QW-84", "CD34-0001-0A01"],
      ["QW-85", "CD34-0009-0A03"],
    ] as const) {
      await addAircraft({ tag, label: "", type: "Warbler" });
      await give(tag, { ...mote, chipId });
    }
    // this processor's loader shows the first and the last word of the chip id
    expect([await owners("CD34-0A01"), await owners("CD34-0A03"), await owners("0000-0000")]).toEqual([
      ["QW-84"],
      ["QW-85"],
      [],
    ]);
    // two boards of one batch: what the loader derives from their chips is the same
    await addAircraft({ tag: "QW-86", label: "", type: "Warbler" });
    await give("QW-86", { ...mote, chipId: "CD34-0002-0A01" });
    expect(await owners("CD34-0A01")).toEqual(["QW-84", "QW-86"]);
  });

  it("case C47: without a backup the settings region is what there is; a board that never ran anything is commissioned", async () => {
    const catalogue = await loadCatalogue();
    const benchId = await ensureBench();
    const fence = await takeFence(benchId);
    const aircraft = await aircraftByTag("QW-85");
    const show = (aircraftId: number, chipId: string) =>
      writeLive(benchId, fence, 3, {
        mark: "look",
        say: "Shows only its loader",
        presence: "loader",
        aircraftId,
        chipId,
      });
    await show(aircraft?.id ?? 0, "CD34-0009-0A03");
    const rescued = await releaseChoices(3);
    expect(rescued).toMatchObject({
      goal: "revive",
      basis: expect.stringContaining("the job reads its settings out of its loader first") as unknown,
    });
    // what the register holds of it stands first; others that are not built for it come last, with the nearest target
    expect(rescued.choices[0]?.id).toBe("heddle-22");
    expect(rescued.choices.findIndex(({ instead }) => instead !== undefined)).toBeGreaterThan(5);
    await give("QW-85", { chipId: "CD34-0009-0A03", modelId: "tamsin-mote", target: "TMOTE", releaseId: null });
    expect(await releaseChoices(3)).toMatchObject({
      goal: "commission",
      basis: expect.stringMatching(/^by the defaults of .*: no Warbler was ever backed up$/) as unknown,
    });
    const order = (goal: JobWish["goal"]) =>
      problemOf(orderJob({ bayNo: 3, aircraftId: aircraft?.id ?? 0, account: "technician", goal }));
    expect(await order({ kind: "revive", releaseId: "heddle-22" })).toMatchObject({
      code: expect.stringMatching(/image-none|backup-none/) as unknown,
    });
    expect(await order({ kind: "revive", releaseId: "heddle-99" })).toMatchObject({ code: "release-unknown" });
    expect(await order({ kind: "commission", releaseId: "heddle-99" })).toMatchObject({ code: "release-unknown" });
    const instead = { target: "CSLATE-B", reason: "it is what lies here today" };
    expect(await order({ kind: "update", releaseId: "heddle-22", instead })).toMatchObject({
      code: expect.stringMatching(/image-none|image-processor/) as unknown,
    });
    expect(catalogue.releases.has("heddle-22")).toBe(true);
  });

  it("a board that only its loader told is found again by it, and by its whole chip id when it first speaks", async () => {
    const catalogue = await loadCatalogue();
    await addAircraft({ tag: "QW-87", label: "", type: "Warbler" });
    await give("QW-87", { chipId: "EF56-?-0B01", modelId: "tamsin-mote", target: "TMOTE", releaseId: null });
    expect(await ownerOf("EF56-0042-0B01")).toEqual(["QW-87"]);
    expect(await ownerOf("EF56-0042-0B02")).toEqual([]);
    expect((await boardsByLoader("EF56-0B01", catalogue)).map(({ tag }) => tag)).toEqual(["QW-87"]);
    // one that says the same word in full, and is known, is meant before one that is known in part
    await addAircraft({ tag: "QW-88", label: "", type: "Warbler" });
    await give("QW-88", { chipId: "EF56-0077-0B01", modelId: "tamsin-mote", target: "TMOTE", replace: true });
    expect(await ownerOf("EF56-0077-0B01")).toEqual(["QW-88"]);
  });

  it("a board that no aircraft flies is known by its loader as well: it is not written down twice", async () => {
    const catalogue = await loadCatalogue();
    await addAircraft({ tag: "QW-89", label: "", type: "Warbler" });
    await give("QW-89", { chipId: "AA77-0001-0C01", modelId: "tamsin-mote", target: "TMOTE" });
    await run("update boards set aircraft_id = null where chip_id = 'AA77-0001-0C01'", []);
    const known = { appearance: 1, loaderId: "AA77-0C01", processor: "Nettle 26" };
    const wish = { kind: "give" as const, tag: "QW-89", modelId: "tamsin-mote", replace: false };
    const benchId = await ensureBench();
    const fence = await takeFence(benchId);
    expect(
      await problemOf(
        giveKnownBoard(known, NOTHING_SEEN, { ...wish, modelId: "corsley-slate" }, "technician", { benchId, fence }),
      ),
    ).toMatchObject({
      code: "model-contradiction",
    });
    await giveKnownBoard(known, NOTHING_SEEN, wish, "technician", { benchId, fence });
    expect((await boardsByLoader("AA77-0C01", catalogue)).map(({ chip_id }) => chip_id)).toEqual(["AA77-0001-0C01"]);
  });

  it("case C87: a board is not given under its look-alike’s name, unless with a reason that is kept", async () => {
    await addAircraft({ tag: "QW-79", label: "", type: "Warbler" });
    const benchId = await ensureBench();
    const fence = await takeFence(benchId);
    const identity = { chipId: "AD77-0001-0001", board: "Fenwright Harrow 2", target: "FHARROW-2" };
    const onCable = { kind: "console", port: "1", appearance: 1, vendorId: 0x1209, productId: 0x0023 } as const;
    const as = (modelId: string, reason?: string) =>
      giveKnownBoard(
        { appearance: 1, identity },
        onCable,
        { kind: "give", tag: "QW-79", modelId, replace: false, ...(reason === undefined ? {} : { reason }) },
        "technician",
        { benchId, fence },
      );
    const refusal = await problemOf(as("fenwright-harrow"));
    expect(refusal).toMatchObject({
      code: "model-contradiction",
      message: "The board says that it is no Fenwright Harrow",
    });
    expect(JSON.stringify(refusal)).toContain("0x1209:0x0022");
    expect(JSON.stringify(refusal)).toContain("0x1209:0x0023, as Fenwright Harrow 2");
    expect(await ownerOf("AD77-0001-0001")).toEqual([]);
    await as("fenwright-harrow", "Its maker sold it with the new one’s label");
    expect(await ownerOf("AD77-0001-0001")).toEqual(["QW-79"]);
    const [grounding] = (await groundingsOf((await aircraftByTag("QW-79"))?.id ?? 0)).map(({ reason }) => reason);
    expect(grounding).toContain("against its own signs: Its maker sold it with the new one’s label");
  });

  it("an id that is open by its own account is not written down: it would be any board's; the target is the model's", async () => {
    const benchId = await ensureBench();
    const fence = await takeFence(benchId);
    await addAircraft({ tag: "QW-90", label: "", type: "Warbler" });
    const wish = { kind: "give" as const, tag: "QW-90", modelId: "tamsin-reed-a", replace: false };
    const give = (known: Parameters<typeof giveKnownBoard>[0]) =>
      giveKnownBoard(known, NOTHING_SEEN, wish, "technician", { benchId, fence });
    const identity = { family: "Heddle", release: "22", target: "TREED-B" };
    for (const chipId of ["?-?-?", "AC12-?-0001"])
      expect(await codeOf(give({ appearance: 1, identity: { ...identity, chipId } }))).toBe("board-nameless");
    expect(await codeOf(give({ appearance: 1, loaderId: "?-?", processor: "Nettle 26" }))).toBe("board-nameless");
    expect(await ownerOf("AC12-0009-0001")).toEqual([]);
    // firmware of another board's target says that target: the register is not talked into it
    await give({ appearance: 1, identity: { ...identity, chipId: "AB99-0001-0001" } });
    expect((await boardsByChip("AB99-0001-0001")).map(({ target }) => target)).toEqual(["TREED"]);
  });
});
