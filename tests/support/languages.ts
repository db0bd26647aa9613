import { readFileSync } from "node:fs";
import path from "node:path";
import { parse } from "yaml";
import { buildCatalogue, checkDocument, readDocument, type Catalogue, type Release } from "@/core/catalog";
import { idiomOf, recogniseText, type Idiom } from "@/core/idiom";
import { learnRelease, type LearnAbout } from "@/core/learn";
import { valueOf } from "@/core/problem";

/** From the project’s folder, in which tests and benchmarks run. */
const FOLDER = path.resolve("tests/languages");
export const languageFile = (name: string): Buffer => readFileSync(path.join(FOLDER, name));

/** Languages that live only here: their documents and a read-out of each, written by hand. */
export const LANGUAGES = [
  "ledger",
  "path",
  "block",
  "lists",
  "sentence",
  "sheet",
  "brace",
  "grid",
  "front",
  "pairs",
  "bare",
  "columns",
] as const;
export type LanguageName = (typeof LANGUAGES)[number];

export interface Language {
  readonly name: LanguageName;
  readonly idiom: Idiom;
  readonly release: Release;
  readonly catalogue: Catalogue;
  /** The read-out, byte for byte, and its text. */
  readonly bytes: Buffer;
  readonly text: string;
}

/** A language with the release that all of them are tried on. */
export function language(name: LanguageName): Language {
  const idiom = valueOf(readDocument(languageFile(`${name}.idiom.yaml`).toString("utf8")));
  const body = parse(languageFile("reedling-4.release.yaml").toString("utf8")) as Record<string, unknown>;
  const catalogue = valueOf(buildCatalogue([idiom, valueOf(checkDocument({ ...body, idiom: name }))]));
  const release = catalogue.releases.get("reedling-4");
  if (!release) throw new Error("no release");
  const bytes = languageFile(`${name}.txt`);
  const made = idiomOf(idiom);
  const text = new TextDecoder(made.text.encoding === "latin-1" ? "latin1" : "utf-8").decode(bytes);
  return { name, idiom: made, release, catalogue, bytes, text };
}

/** What a text that was learnt from is judged in its own language and release: whole, or which step did not come out. */
export function learntWhole(text: string, definition: string, about: LearnAbout): string {
  const idiom = readDocument(definition);
  if (!idiom.ok) return "no language";
  const learnt = learnRelease(text, idiomOf(idiom.value), valueOf(buildCatalogue([])), about);
  if (!learnt.ok) return "no release";
  if (learnt.value.left.length > 0) return "a rest";
  const release = checkDocument(structuredClone(learnt.value.document));
  const made = release.ok ? buildCatalogue([idiom.value, release.value]) : release;
  if (!made.ok) return "no document";
  const read = recogniseText(text, made.value);
  return read.ok ? read.value.recital.completeness.verdict : "not recognised";
}
