import { proofSentence, type Proof } from "@/core/carryover";
import { layoutOf, processorOf, findTarget } from "@/core/catalog";
import { ask, askCommand, keepSettings, plainLines, sendScript } from "@/core/console";
import { idiomOf, recogniseText, type Idiom } from "@/core/idiom";
import { readRescued } from "@/core/diagnose";
import { foldJob } from "@/core/job";
import { valueOf } from "@/core/problem";
import { buildImage, linkTo, SimBoard, virtualClock } from "@/core/sim";
import { addressId } from "@/core/config";
import { catalogue, CHIP, MemoryStore, release, runUpdate, updateJob, foundIn } from "../support/workshop";

const decode = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

/** A board of any family as it comes to the bench, and the idiom that it speaks. */
async function boardOf(releaseId: string, modelId: string) {
  const of = release(releaseId);
  const model = catalogue().models.get(modelId);
  const document = catalogue().idioms.get(of.idiom);
  const target = model && findTarget(of, model.target);
  if (!model || !document || !target) throw new Error(`${releaseId} on ${modelId}`);
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue());
  board.manufacture(buildImage(of, target, processorOf(catalogue(), model.processor), layoutOf(catalogue(), of)));
  const link = linkTo(board, virtualClock());
  board.plug(0);
  await link.clock.waitUntil(2_000_000);
  return { board, link, idiom: idiomOf(document), of };
}
const give = (
  link: Awaited<ReturnType<typeof boardOf>>["link"],
  idiom: Idiom,
  lines: readonly string[],
  windowBytes = 64,
) => sendScript(link.console, plainLines(lines), idiom, { windowBytes, quietUs: 2_000_000 });

const WING = [
  "[general navigation]",
  "Cruise speed: 18,5 m/s",
  "[ports 3]",
  "use: position",
  "speed: 57600",
  "[tune 2]",
  'Name of the tune: "gusty day"',
  "Push, roll: 71",
  "[chosen]",
  "tune: 2",
];

describe("a console that takes values in between two words", () => {
  it("takes headings, pairs, rows and the choice of profiles, and reads them back whole", async () => {
    const { link, idiom } = await boardOf("treadle-80", "fenwright-gull");
    const sent = await give(link, idiom, WING);
    expect(sent.answers.map((answer) => answer?.answer)).toEqual(WING.map(() => "accepted"));
    valueOf(await keepSettings(link.console, idiom));
    const { recital } = valueOf(
      recogniseText(decode(valueOf(await askCommand(link.console, idiom, "recite")).raw), catalogue()),
    );
    expect(recital.completeness.verdict).toBe("complete");
    const at = (id: string) => recital.configuration.settings.find((s) => addressId(s) === id)?.value;
    expect([at("system/Cruise speed"), at("tune 2/Push, roll"), at("tune 2/Name of the tune")]).toEqual([
      18.5,
      71,
      "gusty day",
    ]);
    expect(recital.configuration.active.tune).toBe(2);
    expect(recital.configuration.rows.find((row) => row.table === "ports" && row.key === "3")?.cells).toMatchObject({
      use: "position",
    });
  });

  it("case C28: refusals are told at the end by line and cause, and the rest is kept", async () => {
    const { link, idiom } = await boardOf("treadle-80", "fenwright-gull");
    const lines = [
      "[general navigation]",
      "Cruise speed: 99,0 m/s",
      "No such thing: 4",
      "Cruise speed: 17.0 m/s",
      "Loiter circle: 80 m",
      "[ports 9]",
    ];
    const sent = await give(link, idiom, lines);
    expect(sent.answers.map((answer) => answer?.cause ?? answer?.answer)).toEqual([
      "accepted",
      "out-of-range",
      "unknown-name",
      "garbled",
      "accepted",
      "not-here",
    ]);
    expect(valueOf(await keepSettings(link.console, idiom))).toEqual({ twice: true });
    const { recital } = valueOf(
      recogniseText(decode(valueOf(await askCommand(link.console, idiom, "recite")).raw), catalogue()),
    );
    expect(recital.configuration.settings.find((s) => s.key === "Loiter circle")?.value).toBe(80);
  });

  it("outside of them a value is refused, and a line that is only the closing word is doubled", async () => {
    const { link, idiom } = await boardOf("treadle-80", "fenwright-gull");
    expect(valueOf(await ask(link.console, "Cruise speed: 17,0 m/s", idiom, 2000)).answer).toBe("refused");
    const sent = await give(link, idiom, ["[general navigation]", ".", "Loiter circle: 90 m"]);
    expect(sent.answers.map((answer) => answer?.answer)).toEqual(["accepted", "refused", "accepted"]);
  });

  it.each([9_600, 115_200, 921_600])("case C27: at %d baud nothing is lost on the way", async (baud) => {
    const { board, link, idiom, of } = await boardOf("treadle-71", "fenwright-gull");
    board.unplug(link.clock.nowUs());
    board.uartBaud = baud;
    board.setBattery(link.clock.nowUs(), true);
    await link.clock.waitUntil(link.clock.nowUs() + 2_000_000);
    const lines = Array.from({ length: 120 }, (_, i) => [
      `[tune ${(i % 5) + 1}]`,
      `Push, roll: ${30 + (i % 60)}`,
    ]).flat();
    const sent = await give(link, idiom, lines, of.console.inputBufferBytes);
    expect(sent.problem).toBeUndefined();
    expect(sent.answers.filter((answer) => answer?.answer !== "accepted")).toEqual([]);
    expect(board.lostBytes).toBe(0);
  });
});

describe("a console that speaks in records", () => {
  it("takes a record whole, adjusts, refuses those of another edition, and reads back", async () => {
    const { link, idiom } = await boardOf("bobbin-41", "pellow-rill");
    const say = async (line: object) => valueOf(await ask(link.console, JSON.stringify(line), idiom, 2000));
    expect(await say({ record: "tune", no: 3, edition: "c204", holds: { "stabiliser/rollPush": 610 } })).toMatchObject({
      answer: "accepted",
    });
    expect(await say({ record: "tune", no: 3, edition: "a91f", holds: { "stabiliser/rollPush": 1 } })).toMatchObject({
      answer: "refused",
      cause: "garbled",
      text: "edition a91f, not c204",
    });
    expect(await say({ record: "tune", no: 9, edition: "c204", holds: {} })).toMatchObject({ answer: "refused" });
    expect(await say({ record: "system", no: "tune", edition: "c204", holds: { "no/such": 1 } })).toMatchObject({
      answer: "refused",
      cause: "unknown-name",
    });
    const { recital } = valueOf(
      recogniseText(decode(valueOf(await askCommand(link.console, idiom, "recite")).raw), catalogue()),
    );
    expect([recital.release.id, recital.completeness.verdict]).toEqual(["bobbin-41", "complete"]);
    expect(recital.configuration.settings.find((s) => addressId(s) === "tune 3/stabiliser/rollPush")?.value).toBe(610);
  });

  it("stands behind a bridge when its processor has no USB: a console, and a serial loader, never one on USB", async () => {
    const { board, link, idiom } = await boardOf("bobbin-41", "pellow-rill");
    expect(link.presence()).toMatchObject({ kind: "console" });
    await ask(link.console, idiom.words.loader ?? "", idiom, 1000);
    await link.clock.waitUntil(link.clock.nowUs() + 3_000_000);
    expect(link.presence()).toMatchObject({ kind: "loader", transport: "serial" });
    board.unplug(link.clock.nowUs());
    expect(link.presence().kind).toBe("none");
  });
});

describe("the whole job in other families", () => {
  it("a wing from Treadle 71 to 80: read out, planned, flashed, restored through its intake, proved", async () => {
    const { board, link, idiom } = await boardOf("treadle-71", "fenwright-gull");
    const typed = await give(link, idiom, [
      "[general outputs]",
      "Reflex: 55 µs",
      "[general navigation]",
      "Flare at: 3,5 m",
      "[battery 2]",
      "Low battery, a cell: 36 dV",
    ]);
    expect(typed.answers.every((answer) => answer?.answer === "accepted")).toBe(true);
    valueOf(await keepSettings(link.console, idiom));
    const store = new MemoryStore();
    store.modelId = "fenwright-gull";
    expect(await runUpdate(board, link, store, { job: updateJob("treadle-80") })).toBe("finished");
    const state = foldJob(updateJob().steps, store.journal);
    const proof = store.papers.get(foundIn(state).proofSha ?? "") as Proof;
    expect(proofSentence(proof)).toMatch(/^All \d+ values took, read back from the board\. Not carried: /);
    const found = (id: string) => proof.values.find((value) => value.id === id)?.found;
    // its settings region is kept in a layout of the family's own, and read through the loader by it
    const rescued = readRescued(store.rescues[0] ?? new Uint8Array(), catalogue(), { target: "FGULL" });
    expect(rescued.ok && [rescued.value.release.id, rescued.value.unread]).toEqual(["treadle-71", []]);
    expect(rescued.ok && rescued.value.text).toContain("Reflex: 55 µs");
    expect([
      found("system/Reflex of the elevons"),
      found("system/Flare at"),
      found("battery 2/Low battery, a cell"),
    ]).toEqual(["55 µs", "350 cm", "3.6 V"]);
  });

  it("two releases at once: Heddle 19 to 23 over 22, in one job", async () => {
    const { board, link, idiom } = await boardOf("heddle-19", "corsley-slate");
    const typed = await give(link, idiom, [
      "hush",
      "put home.height 55",
      "put hold.radius 45",
      "use battery 1",
      "put battery.capacity 6.50",
    ]);
    expect(typed.answers.every((answer) => answer?.answer === "accepted")).toBe(true);
    valueOf(await keepSettings(link.console, idiom));
    const store = new MemoryStore();
    expect(await runUpdate(board, link, store, { job: updateJob("heddle-23") })).toBe("finished");
    const state = foldJob(updateJob().steps, store.journal);
    const proof = store.papers.get(foundIn(state).proofSha ?? "") as Proof;
    const found = (id: string) => proof.values.find((value) => value.id === id)?.found;
    expect([found("system/return.height"), found("system/hold.radius"), found("battery 1/battery.capacity")]).toEqual([
      "55 m",
      "4.5 m",
      "6500 mAh",
    ]);
  });
});
