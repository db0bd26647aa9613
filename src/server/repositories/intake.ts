import type { Readable } from "node:stream";
import { promisify } from "node:util";
import { crc32 } from "node:zlib";
import { fromBuffer, type Entry, type Options, type ZipFile } from "yauzl";
import { releaseTitle } from "@/core/catalog";
import { candidatesForRaw, type Recognised } from "@/core/idiom";
import { ProblemError, problemOf } from "@/core/problem";
import { boardsByChip } from "@/server/repositories/boards";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { recogniseBytes } from "@/server/repositories/readings";
import { col, fn, Op, where } from "sequelize";
import { getDb } from "@/server/db";
import { knownCopy } from "@/server/repositories/backups";
import { first } from "@/server/sql";
import { storable } from "@/server/storable";
import type { InspectedEntry, ReadoutProposal } from "@/contracts/answers/read-outs";

const LOOKED_AT = 20;

const MAX_ENTRIES = 200;
const MAX_ENTRY_BYTES = 4_000_000;
const MAX_TOTAL_BYTES = 60_000_000;

const isZip = (raw: Uint8Array) => raw[0] === 0x50 && raw[1] === 0x4b && raw[2] === 3 && raw[3] === 4;

const archiveProblem = (detail: string, hint: string) =>
  new ProblemError({ code: "archive-refused", message: "The archive cannot be taken", detail, hint });

/** Bytes of one file of an archive: not one more than it says, and with the check that it says (APPNOTE.TXT, 4.4.7). */
async function unpack(archive: ZipFile, entry: Entry): Promise<Uint8Array> {
  const stream = await promisify<Entry, Readable>(archive.openReadStream.bind(archive))(entry);
  const parts: Buffer[] = [];
  for await (const part of stream) parts.push(part as Buffer);
  const bytes = Buffer.concat(parts);
  if (crc32(bytes) !== entry.crc32)
    throw archiveProblem(
      `${entry.fileName} is damaged: its check does not fit`,
      "Pack it again, or send the file as it is",
    );
  return new Uint8Array(bytes);
}

function checkEntry(entry: Entry, count: number, total: number): void {
  if (count > MAX_ENTRIES) throw archiveProblem(`It holds more than ${MAX_ENTRIES} files`, "Split it and try again");
  if (entry.uncompressedSize > MAX_ENTRY_BYTES)
    throw archiveProblem(
      `${entry.fileName} would be larger than ${MAX_ENTRY_BYTES / 1e6} MB`,
      "A read-out is far smaller",
    );
  if (total > MAX_TOTAL_BYTES)
    throw archiveProblem(`Unpacked it would be larger than ${MAX_TOTAL_BYTES / 1e6} MB`, "Split it and try again");
}

/** What the archive's directory lists, folders left out. */
function directoryOf(archive: ZipFile): Promise<Entry[]> {
  let total = 0;
  const entries: Entry[] = [];
  return new Promise((resolve, reject) => {
    archive.on("entry", (entry: Entry) => {
      try {
        if (!entry.fileName.endsWith("/")) {
          total += entry.uncompressedSize;
          entries.push(entry);
          checkEntry(entry, entries.length, total);
        }
        archive.readEntry();
      } catch (error) {
        reject(error instanceof Error ? error : new Error(String(error)));
      }
    });
    archive.on("end", () => resolve(entries));
    archive.on("error", reject);
    archive.readEntry();
  });
}

/**
 * The files in an archive (ZIP), or the file itself. Sizes are judged by what the archive's directory says before anything
 * is unpacked; what then comes out is held against that, and cut off where it is more.
 */
export async function entriesOf(raw: Uint8Array, name: string): Promise<{ name: string; bytes: Uint8Array }[]> {
  if (!isZip(raw)) return [{ name, bytes: raw }];
  try {
    // sizes are checked while it is unpacked; names that would lead elsewhere are refused
    const archive = await promisify<Buffer, Options, ZipFile>(fromBuffer)(Buffer.from(raw), {
      lazyEntries: true,
      autoClose: false,
      validateEntrySizes: true,
    });
    const entries = await directoryOf(archive);
    const files: { name: string; bytes: Uint8Array }[] = [];
    for (const entry of entries)
      files.push({ name: entry.fileName.slice(0, 200), bytes: await unpack(archive, entry) });
    return files;
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw archiveProblem(error instanceof Error ? error.message : String(error), "Pack it again as a plain ZIP");
  }
}

/** Which aircraft a read-out belongs to: by its chip, by the name it gives itself, by the file's name. */
async function ownerOf(recognised: Recognised, name: string): Promise<{ tag: string | null; by: string }> {
  const { configuration } = recognised.recital;
  const chip = configuration.identity.chipId;
  if (chip !== undefined) {
    const owners = (await boardsByChip(chip)).flatMap((board) => board.tag ?? []);
    if (owners.length === 1 && owners[0] !== undefined) return { tag: owners[0], by: `its chip id ${chip}` };
    if (owners.length > 1) return { tag: null, by: `several aircraft own chip ${chip}: ${owners.join(", ")}` };
  }
  const labels = configuration.settings.flatMap((s) =>
    recognised.recital.release.settings.find((d) => d.key === s.key)?.area === "identity" && typeof s.value === "string"
      ? [s.value.trim()]
      : [],
  );
  for (const [text, by] of [
    ...labels.map((l) => [l, "the name it gives itself"]),
    [name, "the file's name"],
  ] as const) {
    const within = where(fn("strpos", by === "the file's name" ? storable(text) : "", col("tag")), Op.gt, 0);
    const found = await first(getDb().Aircraft, {
      where: { [Op.or]: [{ tag: storable(text) }, within] },
      attributes: ["tag"],
      order: [[fn("length", col("tag")), "desc"]],
    });
    if (found) return { tag: found.tag, by };
  }
  return { tag: null, by: "nothing in it says whose it is" };
}

async function inspectOne(bytes: Uint8Array, name: string): Promise<ReadoutProposal> {
  const recognised = await recogniseBytes(bytes);
  const { recital, recognition } = recognised;
  const { identity } = recital.configuration;
  const owner = await ownerOf(recognised, name);
  const duplicate = await knownCopy(bytes);
  return {
    release: releaseTitle(recital.release),
    target: identity.target ?? null,
    chipId: identity.chipId ?? null,
    verdict: recital.completeness.verdict,
    findings: recital.completeness.findings,
    evidence: recognition.evidence,
    tag: owner.tag,
    tagBy: owner.by,
    duplicate: duplicate ?? null,
  };
}

/** Looks at what was dropped; nothing is kept. A file that cannot be read is named with its reason beside the others. */
export async function inspectFile(raw: Uint8Array, name: string): Promise<InspectedEntry[]> {
  const inspected: InspectedEntry[] = [];
  const catalogue = await loadCatalogue();
  for (const entry of await entriesOf(raw, name)) {
    const candidates = inspected.length < LOOKED_AT ? candidatesForRaw(entry.bytes, catalogue) : [];
    const about = { name: entry.name, sizeBytes: entry.bytes.length, candidates };
    try {
      inspected.push({ ...about, proposal: await inspectOne(entry.bytes, entry.name) });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      inspected.push({ ...about, problem: problemOf(error) });
    }
  }
  return inspected;
}
