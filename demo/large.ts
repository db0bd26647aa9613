import { parseArgs } from "node:util";
import { findTarget, releaseById, type Release } from "@/core/catalog";
import { limitValue, type Value } from "@/core/config";
import { defaultConfiguration, idiomOf, readRecital, reciteLines } from "@/core/idiom";
import { valueOf } from "@/core/problem";
import { closeDb } from "@/server/db";
import { putBlob } from "@/server/repositories/blobs";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { one, run } from "@/server/sql";

/** What the large fleet is made of: the demo's types, boards and releases, many times over. */
const KINDS = [
  { type: "Sedge", model: "corsley-slate", target: "CSLATE-B", releases: ["heddle-22", "heddle-22", "heddle-23"] },
  { type: "Warbler", model: "tamsin-mote", target: "TMOTE", releases: ["heddle-22"] },
  { type: "Bulrush", model: "fenwright-gull", target: "FGULL", releases: ["treadle-80", "treadle-71"] },
  { type: "Teasel", model: "pellow-weir", target: "PWEIR", releases: ["weft-9", "weft-8"] },
  { type: "Avocet", model: "corsley-spire", target: "CSPIRE", releases: ["sley-3"] },
] as const;
/** So many different configurations for each release; backups share them, as backups of an unchanged aircraft do. */
const VARIANTS = 60;
const BATCH = 500;
const DAY_MS = 86_400_000;

/** A generator of numbers from 0 to 1 that gives the same for the same seed (mulberry32). */
function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

interface Stored {
  readonly sha256: string;
  readonly verdict: string;
  readonly findings: string;
  readonly targetId: string;
}

/** A read-out of a board that was tuned a little, stored once. */
async function storeVariant(release: Release, targetId: string, seed: number): Promise<Stored> {
  const catalogue = await loadCatalogue();
  const next = numbersFrom(seed);
  const document = catalogue.idioms.get(release.idiom);
  if (!document) throw new Error(`no idiom ${release.idiom}`);
  const idiom = idiomOf(document);
  const identity = { family: release.family, release: release.version, builtOn: release.builtOn, target: targetId };
  const base = defaultConfiguration(release, targetId, identity);
  const types = new Map(release.settings.map((setting) => [setting.key, setting.type]));
  const settings = base.settings.map((entry) => {
    const type = types.get(entry.key);
    if (type?.kind !== "number" || typeof entry.value !== "number" || next() > 0.02) return entry;
    const value: Value = limitValue(entry.value + Math.round((next() - 0.5) * 10) * type.step, type) ?? entry.value;
    return { ...entry, value };
  });
  const text = `${reciteLines({ ...base, settings }, release, idiom, "all").join("\n")}\n`;
  const { completeness } = valueOf(readRecital(text, idiom, catalogue));
  const sha256 = await putBlob(new TextEncoder().encode(text));
  return { sha256, verdict: completeness.verdict, findings: JSON.stringify(completeness.findings), targetId };
}

async function insertMany(head: string, columns: number, rows: readonly (readonly unknown[])[]): Promise<void> {
  for (let at = 0; at < rows.length; at += BATCH) {
    const batch = rows.slice(at, at + BATCH);
    const places = batch.map(
      (_, i) => `(${Array.from({ length: columns }, (__, j) => `$${i * columns + j + 1}`).join(", ")})`,
    );
    await run(`${head} values ${places.join(", ")}`, batch.flat());
  }
}

async function main() {
  const { values } = parseArgs({
    options: { aircraft: { type: "string", default: "2000" }, backups: { type: "string", default: "60000" } },
  });
  const [aircraft, backups] = [Number(values.aircraft), Number(values.backups)];
  if (![aircraft, backups].every((n) => Number.isSafeInteger(n) && n > 0 && n <= 1_000_000))
    throw new Error("--aircraft and --backups want whole numbers from 1 to 1000000");
  const catalogue = await loadCatalogue();
  const variants = new Map<string, Stored[]>();
  for (const kind of KINDS)
    for (const id of new Set<string>(kind.releases)) {
      const release = valueOf(releaseById(catalogue, id));
      const target = findTarget(release, kind.target);
      if (!target) throw new Error(`${id} is not built for ${kind.target}`);
      const made: Stored[] = [];
      for (let i = 0; i < VARIANTS; i++) made.push(await storeVariant(release, target.id, i * 7919 + id.length));
      variants.set(`${kind.type} ${id}`, made);
    }
  console.log(`${variants.size * VARIANTS} different read-outs`);
  const first = (await one<{ id: number }>("select coalesce(max(id), 0) + 1 as id from aircraft"))?.id ?? 1;
  const next = numbersFrom(aircraft);
  const fleet = Array.from({ length: aircraft }, (_, i) => {
    const kind = KINDS[i % KINDS.length] ?? KINDS[0];
    const releaseId = kind.releases[Math.floor(next() * kind.releases.length)] ?? kind.releases[0];
    return { id: first + i, tag: `LW-${String(first + i).padStart(5, "0")}`, kind, releaseId };
  });
  await insertMany(
    "insert into aircraft (id, tag, label, type, state, state_reason)",
    6,
    fleet.map(({ id, tag, kind }) => [id, tag, "Large workshop", kind.type, "in-service", ""]),
  );
  await run("select setval(pg_get_serial_sequence('aircraft', 'id'), (select max(id) from aircraft))");
  await insertMany(
    "insert into boards (chip_id, model_id, target, release_id, aircraft_id)",
    5,
    fleet.map(({ id, kind, releaseId }) => [
      `LW${String(id).padStart(10, "0")}`,
      kind.model,
      kind.target,
      releaseId,
      id,
    ]),
  );
  console.log(`${aircraft} aircraft`);
  const each = Math.ceil(backups / aircraft);
  let made = 0;
  let pending: unknown[][] = [];
  for (const { id, tag, kind, releaseId } of fleet) {
    const pool = variants.get(`${kind.type} ${releaseId}`) ?? [];
    for (let i = 0; i < each && made < backups; i++, made++) {
      const stored = pool[Math.floor(next() * pool.length)];
      if (!stored) continue;
      const taken = new Date(Date.now() - (1 + i * 11 + next() * 5) * DAY_MS);
      const name = `${tag} ${releaseId} ${taken.toISOString().slice(0, 16).replace("T", " ")}`;
      pending.push([
        id,
        stored.sha256,
        "file",
        name,
        releaseId,
        stored.targetId,
        stored.verdict,
        stored.findings,
        "technician",
        taken,
      ]);
    }
    if (pending.length >= BATCH * 4) {
      await insertMany(
        "insert into backups (aircraft_id, sha256, source, name, release_id, target, verdict, findings, taken_by, taken_at)",
        10,
        pending,
      );
      pending = [];
      process.stdout.write(`\r${made} of ${backups} backups`);
    }
  }
  await insertMany(
    "insert into backups (aircraft_id, sha256, source, name, release_id, target, verdict, findings, taken_by, taken_at)",
    10,
    pending,
  );
  await run("analyze");
  console.log(`\r${made} backups          `);
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
