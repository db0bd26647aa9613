import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { askCommand } from "@/core/console";
import {
  findTarget,
  layoutOf,
  LOADER_PART,
  processorOf,
  releaseById,
  settingsSegment,
  type Catalogue,
} from "@/core/catalog";
import { readRescued } from "@/core/diagnose";
import { applicationSpace } from "@/core/image";
import { fittedParts, partTitle } from "@/core/part";
import { ProblemError, problemOf, valueOf } from "@/core/problem";
import {
  afflict,
  type Ailment,
  buildImage,
  buildLoaderImage,
  type SimBoard,
  snapshotOf,
  takeDirtyChunks,
  type SimLink,
} from "@/core/sim";
import { addAccount, allAccounts, hasAccounts } from "@/server/accounts";
import { newPassword } from "@/server/passwords";
import { closeDb, getDb } from "@/server/db";
import { dataFolder } from "@/server/env";
import { fileBackup, lastComplete } from "@/server/repositories/backups";
import { ensureBench } from "@/server/repositories/bench";
import { importDocuments, importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { giveBoard } from "@/server/repositories/boards";
import { addAircraft } from "@/server/repositories/fleet";
import { fitParts } from "@/server/repositories/fittings";
import { addNote } from "@/server/repositories/notes";
import { makeStandard, membersOf } from "@/server/repositories/standards";
import { createSimBoard, saveSimBoard } from "@/server/repositories/simulation";
import { groundAircraft, liftBySignOff, settleState } from "@/server/repositories/groundings";
import { inTransaction, run } from "@/server/sql";
import type { Role } from "@/server/roles";
import { demoDocuments } from "./documents";
import { demoIdiom, makeBoard, typeLines } from "./make-board";
import { DEMO_FLEET, DEMO_NEW_BOARDS, DEMO_STANDARDS, DEMO_STRAYS, type DemoAircraft, type DemoStray } from "./fleet";

const DAY_MS = 86_400_000;
const ACCOUNTS: readonly Role[] = ["lead", "technician", "observer"];
const passwordsFile = () => path.join(dataFolder(), "demo-accounts.json");

async function seedAccounts(): Promise<void> {
  const passwords: Record<string, string> = {};
  for (const role of ACCOUNTS) {
    passwords[role] = newPassword();
    await addAccount({ name: role, person: "", role }, passwords[role]);
  }
  mkdirSync(dataFolder(), { recursive: true });
  writeFileSync(passwordsFile(), JSON.stringify(passwords, null, 2), { mode: 0o600 });
}

async function seedCatalogue(): Promise<Catalogue> {
  await importDocuments(
    demoDocuments().map((each) => each.text),
    "lead",
  );
  const catalogue = await loadCatalogue();
  for (const release of catalogue.releases.values())
    for (const target of release.targets) {
      const processor = processorOf(catalogue, target.processor);
      await importImage(buildImage(release, target, processor, layoutOf(catalogue, release)), "lead");
    }
  for (const part of catalogue.parts.values())
    for (const target of part.targets) {
      const processor = processorOf(catalogue, target.processor);
      const layout = layoutOf(catalogue, part);
      const isLoader = part.part === LOADER_PART;
      await importImage(
        isLoader ? buildLoaderImage(part, processor, layout) : buildImage(part, target, processor, layout),
        "lead",
      );
    }
  return catalogue;
}

/** What somebody wrote on the bag. */
const AILING: Readonly<Record<Ailment, string>> = {
  "half-image": "does not start",
  disarmed: "shows only its loader",
  looping: "restarts for ever",
  emptied: "holds nothing",
  "silent-part": "feels nothing",
};

/** A board on the shelf that something was done to. */
async function seedStray(stray: DemoStray, catalogue: Catalogue, benchId: number, index: number): Promise<void> {
  const { board, link } = await makeBoard(stray, catalogue, index);
  board.unplug(link.clock.nowUs());
  if (stray.ailment) afflict(board, stray.ailment);
  if (stray.firmwareOf !== undefined) {
    const release = valueOf(releaseById(catalogue, stray.release));
    const target = findTarget(release, stray.firmwareOf);
    if (!target) throw new Error(`${stray.release} builds no ${stray.firmwareOf}`);
    afflict(board, "disarmed");
    const image = buildImage(release, target, processorOf(catalogue, target.processor), layoutOf(catalogue, release));
    board.manufacture(image.subarray(0, applicationSpace(board.processor).sizeBytes));
  }
  await shelve(board, link, stray.label, benchId, stray.bay);
}

async function seedAircraft(
  aircraft: DemoAircraft,
  catalogue: Catalogue,
  benchId: number,
  index: number,
): Promise<void> {
  const id = await addAircraft({ tag: aircraft.tag, label: aircraft.label, type: aircraft.type });
  const model = catalogue.models.get(aircraft.model);
  const gift = {
    chipId: aircraft.chipId,
    modelId: aircraft.model,
    target: model?.target ?? "",
    // a day before its first read-out
    at: new Date(Date.now() - (1 + (aircraft.readouts[0]?.daysAgo ?? 0)) * DAY_MS),
  };
  await giveBoard(
    { ...gift, releaseId: aircraft.release, tag: aircraft.tag, account: "lead", replace: false },
    catalogue,
  );
  await inTransaction(async (transaction) => {
    // the boards of the demo were signed off long ago
    await liftBySignOff(id, "lead", transaction);
    await settleState(id, transaction);
  });
  for (const mount of aircraft.fitted ?? []) await fitParts(id, mount, "lead");
  if (aircraft.grounded !== undefined) await groundAircraft(aircraft.tag, aircraft.grounded, "technician");
  const { board, link } = await makeBoard(aircraft, catalogue, index);
  const idiom = demoIdiom(catalogue, aircraft);
  await typeLines(link, catalogue, aircraft, aircraft.lines);
  for (const readout of aircraft.readouts) {
    if (readout.before?.length) await typeLines(link, catalogue, aircraft, readout.before);
    const reply = valueOf(await askCommand(link.console, idiom, readout.kind));
    const takenAt = new Date(Date.now() - readout.daysAgo * DAY_MS);
    const { id: backupId } = await fileBackup({
      raw: reply.raw,
      tag: aircraft.tag,
      aircraftId: id,
      jobId: null,
      chipId: aircraft.chipId,
      source: "file",
      account: "technician",
      at: takenAt.toISOString(),
      takenAt,
    });
    if (readout.note !== undefined)
      await addNote(backupId, readout.note.includes("pad") ? "wiring" : "note", readout.note, "technician");
  }
  await seedPartReadouts(aircraft, board, id, catalogue);
  board.unplug(link.clock.nowUs());
  if (aircraft.ailment) afflict(board, aircraft.ailment);
  const label = `The board of ${aircraft.tag}${aircraft.ailment ? `, which ${AILING[aircraft.ailment]}` : ""}`;
  await shelve(board, link, label, benchId, aircraft.bay);
}

/** What is behind the board, as it was read out with it last; of one that was fitted since nothing is on file. */
async function seedPartReadouts(
  aircraft: DemoAircraft,
  board: SimBoard,
  id: number,
  catalogue: Catalogue,
): Promise<void> {
  const parts = aircraft.unreadParts ? [] : fittedParts(board.spec.model, aircraft.fitted ?? []);
  const [newest] = aircraft.readouts.toReversed();
  const withId = (await lastComplete(id))?.id;
  const takenAt = new Date(Date.now() - (newest?.daysAgo ?? 0) * DAY_MS + 600_000);
  for (const part of parts) {
    const made = board.parts.at(part.part, part.no);
    if (!made) continue;
    const { start, lengthBytes } = settingsSegment(made.processor);
    const region = made.flash.bytes.slice(start - made.flash.start, start - made.flash.start + lengthBytes);
    const identity = { target: made.spec.target ?? "", chipId: made.spec.chipId, board: partTitle(part) };
    const { text } = valueOf(readRescued(region, catalogue, identity));
    await fileBackup({
      raw: new TextEncoder().encode(text),
      ...{ tag: aircraft.tag, aircraftId: id, jobId: null, chipId: null, source: "file", account: "technician" },
      at: takenAt.toISOString(),
      takenAt,
      part: { name: part.name, place: part.place, ...(withId === undefined ? {} : { withId }) },
    });
  }
}

/** Puts a board on the bench's shelf, or into a bay. */
async function shelve(board: SimBoard, link: SimLink, label: string, benchId: number, bay?: number) {
  board.unplug(link.clock.nowUs());
  const { model, chipId, firstPort } = board.spec;
  const simId = await createSimBoard({ label, chipId, modelId: model.id, firstPort });
  await saveSimBoard(benchId, null, {
    boardId: simId,
    bayNo: bay ?? null,
    clockUs: link.clock.nowUs(),
    snapshot: snapshotOf(board),
    chunks: takeDirtyChunks(board),
  });
}

async function seedStandards(): Promise<void> {
  for (const { type, tag, note } of DEMO_STANDARDS) {
    const member = (await membersOf(type)).find((each) => each.tag === tag);
    if (!member?.backup_id) throw new Error(`${tag} has no read-out to make a standard from`);
    await makeStandard(type, member.backup_id, note, "lead");
  }
}

/** What a database holds already, in words; undefined where nothing was ever kept in it. */
async function contentOf(): Promise<string | undefined> {
  const { CatalogueDocumentRow, Aircraft, Backup, Job } = getDb();
  const counts = [
    [(await allAccounts()).length, "accounts"],
    [await Aircraft.count(), "aircraft"],
    [await Backup.count(), "backups"],
    [await Job.count(), "jobs"],
    [await CatalogueDocumentRow.count(), "documents"],
  ] as const;
  const held = counts.filter(([n]) => n > 0).map(([n, what]) => `${n} ${what}`);
  return held.length === 0 ? undefined : held.join(", ");
}

async function seedWorkshop(): Promise<void> {
  console.log("Making the demo workshop (some seconds)");
  const benchId = await ensureBench();
  await run("update benches set name = 'Reed hut' where id = $1", [benchId]);
  const catalogue = await seedCatalogue();
  for (const [index, aircraft] of DEMO_FLEET.entries()) await seedAircraft(aircraft, catalogue, benchId, index * 7);
  for (const [index, fresh] of DEMO_NEW_BOARDS.entries()) {
    const { board, link } = await makeBoard(fresh, catalogue, (DEMO_FLEET.length + index) * 7);
    await shelve(board, link, `A new ${board.spec.model.title}, out of its bag`, benchId);
  }
  const places = (DEMO_FLEET.length + DEMO_NEW_BOARDS.length) * 7;
  for (const [index, stray] of DEMO_STRAYS.entries()) await seedStray(stray, catalogue, benchId, places + index * 7);
  await seedStandards();
  // last: accounts are the sign that the workshop is whole
  await seedAccounts();
}

/** Fills an empty database with the demo world; touches nothing in any other. */
async function main() {
  const content = await contentOf();
  if (content === undefined) await seedWorkshop();
  else if (!(await hasAccounts()))
    throw new ProblemError({
      code: "workshop-doorless",
      message: "The workshop has no account, so nobody could sign in",
      detail: `It holds ${content}; nothing of it was touched`,
      hint: "bin/start --empty makes a first account and keeps everything. If this is a demo whose making was cut off, bin/erase deletes it, and bin/start makes it anew",
    });
  if (existsSync(passwordsFile())) {
    const passwords = JSON.parse(readFileSync(passwordsFile(), "utf8")) as Record<string, string>;
    console.log("Demo accounts, with their passwords:");
    for (const [name, password] of Object.entries(passwords)) console.log(`  ${name.padEnd(11)} ${password}`);
  }
  await closeDb();
}

main().catch((error: unknown) => {
  const { message, detail, hint } = problemOf(error);
  console.error(`The demo workshop was not made: ${message}${detail === undefined ? "" : ` (${detail})`}`);
  if (hint !== undefined) console.error(`  What to do: ${hint}`);
  process.exit(1);
});
