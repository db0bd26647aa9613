import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { ask, askCommand, keepSettings, plainLines, sendScript } from "@/core/console";
import { findTarget, processorOf, releaseById, type Catalogue } from "@/core/catalog";
import { commandLine, idiomOf } from "@/core/idiom";
import { applicationSpace, writeHex } from "@/core/image";
import { ProblemError, problemOf, valueOf } from "@/core/problem";
import {
  afflict,
  buildImage,
  linkTo,
  SimBoard,
  snapshotOf,
  takeDirtyChunks,
  virtualClock,
  type SimLink,
} from "@/core/sim";
import { hashPassword, newPassword } from "@/server/accounts";
import { closeDb, getDb } from "@/server/db";
import { dataFolder } from "@/server/env";
import { fileBackup } from "@/server/repositories/backups";
import { ensureBench } from "@/server/repositories/bench";
import { importDocuments, importImage, loadCatalogue } from "@/server/repositories/catalogue";
import { giveBoard } from "@/server/repositories/boards";
import { addAircraft } from "@/server/repositories/fleet";
import { addNote } from "@/server/repositories/notes";
import { makeStandard, membersOf } from "@/server/repositories/standards";
import { createSimBoard, saveSimBoard } from "@/server/repositories/simulation";
import { groundAircraft, liftBySignOff, settleState } from "@/server/repositories/groundings";
import { inTransaction, run } from "@/server/sql";
import type { Role } from "@/server/roles";
import { demoDocuments } from "./documents";
import { DEMO_FLEET, DEMO_NEW_BOARDS, DEMO_STANDARDS, type DemoAircraft } from "./fleet";

const DAY_MS = 86_400_000;
const ACCOUNTS: readonly Role[] = ["lead", "technician", "observer"];
const passwordsFile = () => path.join(dataFolder(), "demo-accounts.json");

async function seedAccounts(): Promise<void> {
  const passwords: Record<string, string> = {};
  for (const role of ACCOUNTS) {
    passwords[role] = newPassword();
    await getDb().Account.create({ name: role, role, password_hash: await hashPassword(passwords[role]) });
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
  // images for the boards that fly here; others are imported when they are needed
  const flown = new Set(DEMO_FLEET.map((aircraft) => catalogue.models.get(aircraft.model)?.target));
  for (const release of catalogue.releases.values())
    for (const target of release.targets.filter((each) => flown.has(each.id))) {
      const processor = processorOf(catalogue, target.processor);
      const hex = writeHex([
        { start: applicationSpace(processor).start, bytes: buildImage(release, target, processor) },
      ]);
      await importImage(new TextEncoder().encode(hex), "lead");
    }
  return catalogue;
}

/** Makes a board with its firmware, plugged in and running. */
async function makeBoard(
  aircraft: Pick<DemoAircraft, "model" | "chipId" | "release" | "mountQuarters">,
  catalogue: Catalogue,
  index: number,
): Promise<{ board: SimBoard; link: SimLink }> {
  const model = catalogue.models.get(aircraft.model);
  const release = valueOf(releaseById(catalogue, aircraft.release));
  const target = model && findTarget(release, model.target);
  if (!model || !target) throw new Error(`${aircraft.chipId} has no model or target`);
  const board = new SimBoard({ model, chipId: aircraft.chipId, firstPort: 2 + index }, catalogue);
  board.manufacture(buildImage(release, target, processorOf(catalogue, model.processor)));
  board.senses.mountQuarters = aircraft.mountQuarters ?? 0;
  const link = linkTo(board, virtualClock());
  board.plug(0);
  await link.clock.waitUntil(2_000_000);
  return { board, link };
}

async function type(
  link: SimLink,
  catalogue: Catalogue,
  aircraft: DemoAircraft,
  lines: readonly string[],
): Promise<void> {
  const idiom = demoIdiom(catalogue, aircraft);
  const quiet = commandLine(idiom, "quiet");
  if (quiet !== undefined) valueOf(await ask(link.console, quiet, idiom, 2000));
  const sent = await sendScript(link.console, plainLines(lines), idiom, { windowBytes: 64, quietUs: 2_000_000 });
  if (sent.problem) throw new Error(`${aircraft.tag}: ${JSON.stringify(sent.problem)}`);
  sent.answers.forEach((answer, i) => {
    if (answer?.answer !== "accepted")
      throw new Error(
        `${aircraft.tag} does not take “${lines[i] ?? ""}”: ${answer?.text ?? answer?.answer ?? "silence"}`,
      );
  });
  valueOf(await keepSettings(link.console, idiom));
}

function demoIdiom(catalogue: Catalogue, aircraft: DemoAircraft) {
  const document = catalogue.idioms.get(valueOf(releaseById(catalogue, aircraft.release)).idiom);
  if (!document) throw new Error("the demo's idiom is missing");
  return idiomOf(document);
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
  if (aircraft.grounded !== undefined) await groundAircraft(aircraft.tag, aircraft.grounded, "technician");
  const { board, link } = await makeBoard(aircraft, catalogue, index);
  const idiom = demoIdiom(catalogue, aircraft);
  await type(link, catalogue, aircraft, aircraft.lines);
  for (const readout of aircraft.readouts) {
    if (readout.before?.length) await type(link, catalogue, aircraft, readout.before);
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
  board.unplug(link.clock.nowUs());
  if (aircraft.ailment) afflict(board, aircraft.ailment);
  const label = `The board of ${aircraft.tag}${aircraft.ailment ? ", which does not start" : ""}`;
  await shelve(board, link, label, benchId);
}

/** Puts a board on the bench's shelf. */
async function shelve(board: SimBoard, link: SimLink, label: string, benchId: number) {
  board.unplug(link.clock.nowUs());
  const { model, chipId, firstPort } = board.spec;
  const simId = await createSimBoard({ label, chipId, modelId: model.id, firstPort });
  await saveSimBoard(benchId, null, {
    boardId: simId,
    bayNo: null,
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
  const { CatalogueDocumentRow, Aircraft, Backup, Job, Account } = getDb();
  const counts = [
    [await Account.count(), "accounts"],
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
  await seedStandards();
  // last: accounts are the sign that the workshop is whole
  await seedAccounts();
}

/** Fills an empty database with the demo world; touches nothing in any other. */
async function main() {
  const content = await contentOf();
  if (content === undefined) await seedWorkshop();
  else if ((await getDb().Account.count()) === 0)
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
