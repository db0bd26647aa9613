import { planFrom, type Goal, type PlanOrder } from "@/core/job";
import { closeDb, getDb } from "@/server/db";
import { fileBackup, recitalOf } from "@/server/repositories/backups";
import {
  catalogueOf,
  importDocument,
  importDocuments,
  loadCatalogue,
  pinDocuments,
} from "@/server/repositories/catalogue";
import { addAircraft } from "@/server/repositories/fleet";
import { planFor } from "@/server/repositories/job-plans";
import { demoDocuments } from "../../demo/documents";
import { freshDatabase } from "../support/database";
import { slateReadout } from "../support/workshop";

const texts = demoDocuments().map((each) => each.text);
let taken = 0;
let sha = "";

const goal: Goal = { kind: "update", runs: { main: "heddle-23" } };
const order = (): PlanOrder => ({ goal, target: "CSLATE-B", taken });

beforeAll(async () => {
  await freshDatabase("job_plans");
  await importDocuments(texts, "lead");
  const aircraftId = await addAircraft({ tag: "QW-30", label: "", type: "Sedge" });
  const filed = await fileBackup({
    raw: slateReadout("moved"),
    tag: "QW-30",
    aircraftId,
    jobId: null,
    chipId: null,
    source: "file",
    account: "technician",
    at: "2026-11-24T09:12:00Z",
  });
  taken = filed.id;
  sha = (await getDb().Backup.findByPk(taken))?.sha256 ?? "";
});
afterAll(closeDb);

/** Worked out by itself, from what is read now. */
const anew = async (wanted: PlanOrder) => {
  const catalogue = await loadCatalogue();
  return planFrom(wanted, { board: await recitalOf(taken, catalogue) }, catalogue);
};

it("whoever asks gets the plan that follows from the goal, the backup and the documents, worked out once", async () => {
  const catalogue = await loadCatalogue();
  const [first, second] = await Promise.all([planFor(order(), catalogue), planFor(order(), catalogue)]);
  expect(first).toEqual(second);
  expect(await planFor({ ...order() }, catalogue)).toBe(second);
  expect(first).toEqual(await anew(order()));
  // another goal, target or backup is another plan, or none
  const back = await planFor({ ...order(), goal: { kind: "update", runs: { main: "heddle-24" } } }, catalogue);
  expect(back?.to.title).not.toBe(first?.to.title);
  expect(await planFor({ ...order(), taken: undefined }, catalogue)).toBeUndefined();
  expect(await planFor({ ...order(), target: undefined }, catalogue)).toBeUndefined();
  await expect(planFor({ ...order(), taken: 99_999 }, catalogue)).rejects.toMatchObject({
    problem: { code: "backup-none" },
  });
});

it("a document that comes in makes no plan of a job that rests on the ones before it another; what asks by the newest gets a new one", async () => {
  const pins = await pinDocuments();
  const before = await planFor(order(), await catalogueOf(pins));
  const release = texts.find((text) => /^id: heddle-22$/m.test(text)) ?? "";
  const changed = release.replace("{ key: arm.tilt, default: 25 }", "{ key: arm.tilt, default: 30 }");
  expect(changed).not.toBe(release);
  await importDocument(changed, "lead");
  expect(await planFor(order(), await catalogueOf(pins))).toEqual(before);
  const after = await planFor(order(), await loadCatalogue());
  expect(after).toEqual(await anew(order()));
  // the read-out holds moved values only: the rest is the release's own defaults
  expect(after).not.toEqual(before);
});

it("a text that somebody says is something else makes another plan at once", async () => {
  const catalogue = await loadCatalogue();
  const before = await planFor(order(), catalogue);
  await getDb().ReadAsRow.create({ sha256: sha, release_id: "heddle-22", extent: "all", account: "lead" });
  const after = await planFor(order(), catalogue);
  expect(after).not.toBe(before);
  expect(after).toEqual(await anew(order()));
});
