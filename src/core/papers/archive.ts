import { unzipSync } from "fflate";
import { problemOf, refuse, ok, type Result } from "@/core/problem";

/** What the archive says of itself. */
export interface VisitFile {
  readonly format: "fresh-start-visit";
  readonly version: 1;
  readonly job: number;
  readonly tag: string;
  readonly headline: string;
  /** Seals of the whole range are there, from the first to the last. */
  readonly first: number;
  readonly last: number;
  /** SHA-256 of each file that is there to be read, by its name. They carry no seal: they are made from what does. */
  readonly reading?: Readonly<Record<string, string>>;
}

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

export const VISIT = "visit.json";
export const SEALS = "seals.jsonl";
export const ROWS = "rows.jsonl";
export const README = "READ ME.txt";
export const PAPERS = "papers/";
/** Files for people, with names and endings. */
export const READING = "to read/";

/** More than any visit has; an archive that says more is not read. */
const MOST_BYTES = 200_000_000;
const MOST_FILES = 5_000;

/** The files of an archive by their names. Refuses what is none, or more than a visit can be. */
export function readArchive(bytes: Uint8Array): Result<ReadonlyMap<string, Uint8Array>> {
  let [size, files] = [0, 0];
  try {
    const found = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        size += originalSize;
        files++;
        if (size > MOST_BYTES || files > MOST_FILES) throw new Error("it holds more than a visit can");
        return true;
      },
    });
    return ok(new Map(Object.entries(found)));
  } catch (error) {
    return refuse({
      code: "papers-archive",
      message: "This is no archive of a visit’s papers, or it is cut",
      detail: problemOf(error).detail ?? problemOf(error).message,
      hint: "Load it down once more; nothing of it was changed",
    });
  }
}
