import { createHash } from "node:crypto";
import { readFileSync, renameSync, writeFileSync } from "node:fs";
import { isDeepStrictEqual } from "node:util";
import { readDocument, type CatalogueDocument } from "@/core/catalog";
import { ok, type Result } from "@/core/problem";

/*
 * What documents read as, by the hash of their text, in a file of the data folder: a process that starts takes one to two
 * seconds to read some fifty texts, and ten milliseconds to read what they read as. The file is of one build of the program,
 * for another build may read otherwise; it may be lost, damaged or out of date at any time, and then texts are read as ever.
 */

const hashOf = (text: string) => createHash("sha256").update(text).digest("hex");

/** The first line of the file, over the second: a hash, so that no damaged byte passes for what a text says. */
const headOf = (build: string, body: string) => `${hashOf(`${build}\n${body}`)}\n`;

interface Kept {
  readonly file: string;
  readonly build: string;
  /** By the hash of a text, what it reads as, in JSON. */
  readonly texts: Map<string, string>;
  isToWrite: boolean;
}

function load(file: string, build: string): Kept["texts"] {
  try {
    const whole = readFileSync(file, "utf8");
    const at = whole.indexOf("\n") + 1;
    const body = whole.slice(at);
    if (whole.slice(0, at) === headOf(build, body)) return new Map(JSON.parse(body) as [string, string][]);
  } catch {
    // there is none, or it is none
  }
  return new Map();
}

let kept: Kept | undefined;

/** What stands in the file that the environment names; undefined where it names none, as for a program that is being changed. */
function keptNow(): Kept | undefined {
  const { DOCUMENTS_READ: file = "", BUILD: build = "" } = process.env;
  if (file === "" || build === "") return undefined;
  if (kept?.file !== file || kept.build !== build) kept = { file, build, texts: load(file, build), isToWrite: false };
  return kept;
}

/** Written beside and put in its place whole; whoever writes last has the word, and what is missing is read again. */
function write({ file, build, texts }: Kept): void {
  try {
    const body = JSON.stringify([...texts]);
    const beside = `${file}.${process.pid}`;
    writeFileSync(beside, headOf(build, body) + body, { mode: 0o600 });
    renameSync(beside, file);
  } catch {
    // nothing rests on it
  }
}

/** The same as `readDocument`, sooner where the text was read before; what is refused is read, and refused, anew. */
export function readDocumentOnce(text: string): Result<CatalogueDocument> {
  const state = keptNow();
  if (!state) return readDocument(text);
  const name = hashOf(text);
  const known = state.texts.get(name);
  if (known !== undefined) return ok(JSON.parse(known) as CatalogueDocument);
  const read = readDocument(text);
  if (!read.ok) return read;
  const json = JSON.stringify(read.value);
  // what JSON cannot say is read from its text each time
  if (!isDeepStrictEqual(JSON.parse(json), read.value)) return read;
  state.texts.set(name, json);
  if (!state.isToWrite) {
    state.isToWrite = true;
    setImmediate(() => {
      state.isToWrite = false;
      write(state);
    });
  }
  return read;
}
