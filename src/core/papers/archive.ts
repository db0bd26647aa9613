import { unzipSync, zipSync } from "fflate";
import { problemOf, refuse, ok, type Result } from "@/core/problem";

/** A seal as the chain holds it: what it is of, when, the hash of the row, the one before, and its own. */
export interface SealLine {
  readonly no: number;
  readonly kind: string;
  readonly key: string;
  /** ISO 8601 in UTC, to the µs. */
  readonly at: string;
  readonly row: string;
  readonly before: string;
  readonly sha256: string;
}

/** The text of a sealed row, whose SHA-256 its seal holds. */
export interface RowLine {
  readonly kind: string;
  readonly key: string;
  readonly text: string;
}

export const SEALS = "seals.jsonl";
export const ROWS = "rows.jsonl";
export const README = "READ ME.txt";
export const PAPERS = "papers/";
/** Files for people, with names and endings. */
export const READING = "to read/";

export type Files = ReadonlyMap<string, Uint8Array>;

export interface Archive {
  readonly files: Files;
  /** Byte for byte as the workshop packs these files: nothing stands beside them, twice, or behind them. */
  readonly asPacked: boolean;
}

/** More than any visit has; an archive that says more is not read. */
const MOST_BYTES = 200_000_000;
const MOST_FILES = 5_000;
/** The archive depends on its files alone, not on when it is made. */
const PACKED_AT = new Date(2000, 0, 1);

/**
 * The files in one ZIP, stored as they are, in the order of their names: the same files give the same bytes, whoever packs
 * them. All of it stands in one folder (RFC 8493, 4.2: one top-level directory).
 */
export function packArchive(folder: string, files: Files): Uint8Array {
  const names = [...files.keys()].toSorted();
  return zipSync(Object.fromEntries(names.map((name) => [`${folder}/${name}`, files.get(name) ?? new Uint8Array()])), {
    level: 0,
    mtime: PACKED_AT,
  });
}

const isSame = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((byte, i) => byte === b[i]);

/** The files of an archive by their names, without the folder that they stand in. Refuses what is none, or more than a visit can be. */
export function readArchive(bytes: Uint8Array): Result<Archive> {
  let [size, count] = [0, 0];
  try {
    const found = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        size += originalSize;
        count++;
        if (size > MOST_BYTES || count > MOST_FILES) throw new Error("it holds more than a visit can");
        return true;
      },
    });
    const all = Object.entries(found).filter(([name, content]) => !(name.endsWith("/") && content.length === 0));
    const folder = all[0]?.[0].split("/", 1)[0] ?? "";
    const inFolder = all.every(([name]) => name.startsWith(`${folder}/`));
    const files = new Map(all.map(([name, content]) => [inFolder ? name.slice(folder.length + 1) : name, content]));
    return ok({ files, asPacked: inFolder && isSame(packArchive(folder, files), bytes) });
  } catch (error) {
    return refuse({
      code: "papers-archive",
      message: "This is no archive of a visit’s papers, or it is cut",
      detail: problemOf(error).detail ?? problemOf(error).message,
      hint: "Load it down once more; nothing of it was changed",
    });
  }
}
