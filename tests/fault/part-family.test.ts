import type { JobOrder } from "@/bench/store";
import {
  buildCatalogue,
  findTarget,
  firmwareById,
  layoutOf,
  processorOf,
  readDocument,
  type Catalogue,
} from "@/core/catalog";
import { comparisonSentence, compareTwo } from "@/core/compare";
import { recogniseText, type Recital } from "@/core/idiom";
import { readImageFile } from "@/core/image";
import {
  foldJob,
  planFrom,
  planJob,
  resultOf,
  sourcesOf,
  specOf,
  wishFor,
  type Goal,
  type Part,
  type PlanOrder,
} from "@/core/job";
import { fittedParts, oddOnes, partName } from "@/core/part";
import { valueOf } from "@/core/problem";
import { buildImage, linkTo, SimBoard, virtualClock } from "@/core/sim";
import { demoDocuments } from "../../demo/documents";
import { demoAircraft } from "../support/parts";
import { MemoryStore, runUpdate } from "../support/workshop";

/**
 * A family that nothing else here knows: winches, of another processor with a loader of other words at another speed, with
 * images and settings laid out in their own way, written down in a language of their own, two on one board, fed by it.
 */
const DOCUMENTS = [
  `
document: processor
id: Burr 3
title: Burr 3
flashStart: 0x10000000
sectors: [{ count: 48, sizeBytes: 1024, eraseUs: 9000 }]
programUsPerByte: 12
loaderSectors: []
settingsSectors: [0, 1]
applicationSector: 2
identityOffset: 960
loaders:
  - kind: serial
    baud: 57600
    letters: { identity: "?", read: G, write: P, start: X }
    identity: "{sectors} pages of {processor} no {id}"
    done: "."
    refused: "! {why...}"
loaderIdWords: [1]
chipIdWords: 2
`,
  `
document: layout
id: capstan
title: Capstan
order: big
check: sum32
image:
  bytes: 64
  mark: { at: 0, hex: "ca9517a0" }
  family: { at: 4, bytes: 10 }
  version: { at: 14, bytes: 6 }
  target: { at: 20, bytes: 16 }
  region: { at: 36 }
  length: { at: 40 }
  imageCheck: { at: 44 }
  processor: { at: 48 }
  ownCheck: { at: 60 }
region:
  headBytes: 20
  mark: { at: 0, hex: "ca95" }
  format: { at: 4 }
  length: { at: 8 }
  check: { at: 16 }
  covers: [0, 16]
  record: { number: 2, profile: 1, length: 2 }
  numbers: { rows: 0x4000, tables: 0x5000, active: 0x6000 }
`,
  `
document: idiom
id: capstan
title: Capstan writing
spelling: { decimalMark: ",", "on": ein, "off": aus, listMark: ";", empty: leer }
quote: "'"
facts: { family: maker, release: edition, target: drum, chipId: chip, board: where, builtOn: date }
lines:
  - { means: end, pattern: "--- {lines} {check}" }
  - { means: fact, pattern: "% {name} {value...}" }
  - { means: set, pattern: "{key} :: {value...}" }
recital: { end: { check: crc32 } }
`,
  `
document: part-release
id: capstan-2
part: winch
family: Capstan
version: "2"
standing: stable
builtOn: "2026-01-05"
layout: capstan
idiom: capstan
region: { format: capstan-two, stale: rubbish }
targets: [{ id: DRUM-8, processor: Burr 3 }]
settings:
  - { key: haul, title: Hauls in at, area: winch, type: { number: { min: 0.1, max: 2, step: 0.1, unit: m/s } }, default: 0.5, says: How fast it hauls in. }
  - { key: brake, title: Brake holds, area: winch, type: { switch: true }, default: true, says: Holds without current. }
  - { key: rope, title: Rope, area: winch, type: { number: { min: 1, max: 60, step: 1, unit: m } }, default: 20, says: How much is on the drum. }
areas: [{ name: winch, group: Upkeep }]
`,
  `
document: part-release
id: capstan-3
part: winch
family: Capstan
version: "3"
standing: stable
builtOn: "2026-08-05"
inherits: capstan-2
region: { format: capstan-three, stale: refuse }
rules:
  - { rule: rescale, key: haul, factor: 100, why: Said in cm a second since 3. }
  - { rule: rename, key: rope, to: rope length, why: Two lengths are told apart since 3. }
change:
  - { key: haul, type: { number: { min: 10, max: 200, step: 1, unit: cm/s } }, default: 50 }
add:
  - { key: rope left, title: Rope that stays, area: winch, type: { number: { min: 0, max: 10, step: 1, unit: m } }, default: 2, says: So much stays on the drum. }
`,
  `
document: release
id: heddle-22w
family: Heddle
version: 22w
standing: stable
builtOn: "2026-09-01"
inherits: heddle-22
region: { format: heddle-region-22w, stale: refuse }
ways: [{ part: winch, opens: "rope {no}", closes: rope end, quietMs: 300 }]
`,
  `
document: board-model
id: fen-barge
title: Fen Barge
maker: Pellow
revision: A
processor: Nettle 20
target: CSLATE-B
printed: Barge
bootButton: true
bootPads: true
receiverOnUsb: true
usb: { vendorId: 0x1209, productId: 0x0051 }
parts: [{ part: winch, title: winch, places: [fore, aft], target: DRUM-8, supply: board }]
`,
];

const world = (): Catalogue =>
  valueOf(
    buildCatalogue([
      ...demoDocuments().map(({ document }) => document),
      ...DOCUMENTS.map((text) => valueOf(readDocument(text))),
    ]),
  );
const catalogue = world();

class OutsideStore extends MemoryStore {
  override catalogue() {
    return Promise.resolve(catalogue);
  }
  override fileBackup(raw: Uint8Array): Promise<{ id: number; recital: Recital }> {
    const { recital } = valueOf(recogniseText(new TextDecoder().decode(raw), catalogue));
    this.backups.push(recital);
    return Promise.resolve({ id: this.backups.length, recital });
  }
  override async plan(order: PlanOrder) {
    const sources = await sourcesOf(order, (id) => this.recitalOf(id));
    return sources && planFrom(order, sources, catalogue);
  }
  override image(releaseId: string, target: string) {
    const of = firmwareById(catalogue, releaseId);
    const built = of && findTarget(of, target);
    if (!of || !built) throw new Error(`no ${releaseId} for ${target}`);
    const processor = processorOf(catalogue, built.processor);
    const layout = layoutOf(catalogue, of);
    const image = valueOf(readImageFile(buildImage(of, built, processor, layout), processor, { layouts: [layout] }));
    return Promise.resolve({ image, sha256: `${releaseId} ${target}` });
  }
  override knownModel() {
    return Promise.resolve({ modelId: "fen-barge", target: "CSLATE-B" });
  }
}

async function barge(values: readonly Readonly<Record<string, number | boolean>>[]) {
  const model = catalogue.models.get("fen-barge");
  const main = catalogue.releases.get("heddle-22w");
  const target = main && findTarget(main, "CSLATE-B");
  const winch = catalogue.parts.get("capstan-2");
  const drum = winch?.targets[0];
  if (!model || !main || !target || !winch || !drum) throw new Error("the documents are not there");
  const parts = values.map((_, i) => ({
    ...{ part: "winch", no: i + 1, processor: "Burr 3", target: "DRUM-8", supply: "board" as const },
    // two that say the same: their loader's id is not unique
    chipId: "AA01-77C0",
  }));
  const board = new SimBoard({ model, chipId: "4A17-0C22-0001", firstPort: 1, parts }, catalogue);
  board.manufacture(buildImage(main, target, board.processor, layoutOf(catalogue, main)));
  values.forEach((held, i) => {
    const made = board.parts.at("winch", i + 1);
    made?.manufacture(buildImage(winch, drum, made.processor, layoutOf(catalogue, winch)));
    made?.place(held);
  });
  const link = linkTo(board, virtualClock());
  board.plug(0);
  await link.clock.waitUntil(2_000_000);
  return { board, link, fitted: fittedParts(model, []) };
}

const names = [1, 2].map((no): Part => partName("winch", no));

function jobFor(runs: Readonly<Record<string, string>>, fitted: ReturnType<typeof fittedParts>): JobOrder {
  const goal: Goal = { kind: "parts", runs: { main: "heddle-22w", ...runs }, fitted };
  const main = catalogue.releases.get("heddle-22w");
  if (!main) throw new Error("no main release");
  const planned = planJob(goal, wishFor({ tag: "QW-20", goal }, main, undefined, catalogue), {
    "main: shows": "console",
  });
  if (planned.kind === "none") throw new Error(planned.missing.join("; "));
  return { id: 1, tag: "QW-20", aircraftId: 1, chipId: "4A17-0C22-0001", goal, steps: planned.moves.map(specOf) };
}

describe("a family of parts that is brought in by documents alone", () => {
  it("is read, kept, held against its like, compared, written, set up and proved", async () => {
    const { board, link, fitted } = await barge([
      { haul: 0.8, rope: 35 },
      { haul: 0.8, rope: 30, brake: false },
    ]);
    const store = new OutsideStore();
    const reading = jobFor({}, fitted);
    expect(await runUpdate(board, link, store, { job: reading })).toBe("finished");
    const state = foldJob(reading.steps, store.journal);
    const read = await Promise.all(
      fitted.map(async (part) => {
        const recital = await store.recitalOf(resultOf(state, "decode-rescue", part.name).backupId ?? 0);
        expect([recital.release.id, recital.completeness.verdict, recital.idiom.id]).toEqual([
          "capstan-2",
          "complete",
          "capstan",
        ]);
        return { part, ...recital, target: recital.configuration.identity.target };
      }),
    );
    expect(oddOnes(read).map(({ part, what, has, others }) => [part.place, what, has, others])).toEqual([
      ["fore", "Brake holds", "on", "not the same"],
      ["aft", "Brake holds", "off", "not the same"],
      ["fore", "Rope", "35 m", "not the same"],
      ["aft", "Rope", "30 m", "not the same"],
    ]);
    const [fore, aft] = read;
    if (!fore || !aft) throw new Error("two were read");
    expect(comparisonSentence(valueOf(compareTwo(fore, aft, catalogue)))).toMatch(/^2 of 3 values differ|2 differ/);

    store.journal.length = 0;
    const writing = jobFor(Object.fromEntries(names.map((name) => [name, "capstan-3"])), fitted);
    expect(await runUpdate(board, link, store, { job: writing })).toBe("finished");
    const after = foldJob(writing.steps, store.journal);
    for (const name of names) expect(resultOf(after, "prove", name).proved).toMatch(/^All 4 values took/);
    const back = await Promise.all(
      names.map((name) => store.recitalOf(resultOf(after, "prove", name).readBackId ?? 0)),
    );
    expect(
      back.map(({ release, configuration }) => [release.id, ...configuration.settings.map(({ value }) => value)]),
    ).toEqual([
      ["capstan-3", 80, true, 35, 2],
      ["capstan-3", 80, false, 30, 2],
    ]);
    expect(board.parts.all.map(({ halfImageStarts }) => halfImageStarts)).toEqual([0, 0]);
    expect(board.leadsTo).toBeUndefined();
  });

  it("and the demo world's own go on as before beside it", () => {
    const { runs } = demoAircraft("QW-01");
    expect(runs?.["speed controllers"]?.every(({ release }) => catalogue.parts.has(release))).toBe(true);
  });
});
