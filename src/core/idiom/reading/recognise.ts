import { findFirmware, releaseTitle, type Catalogue, type Firmware } from "@/core/catalog";
import { parseValue } from "@/core/config";
import { identityOf, keyIndex } from "@/core/idiom/reading/places";
import { idiomOf, type Idiom } from "@/core/idiom/definition/definition";
import {
  checkReadable,
  chooseRecital,
  findReadouts,
  recitalsAs,
  recitalsOf,
  type ReadAs,
  type Recital,
} from "@/core/idiom/reading/recital";
import { readStatements } from "@/core/idiom/reading/read";
import type { ReadText, Statement } from "@/core/idiom/reading/statement";
import { ok, refuse, type Problem, type Result } from "@/core/problem";

/** Why a text is taken for what it is taken for, in words. */
export interface Recognition {
  /** `said`: the text names its firmware. `fits`: its settings are those of a release. `told`: a person named it. */
  readonly by: "said" | "fits" | "told";
  readonly evidence: readonly string[];
}

export interface Recognised {
  /** All read-outs of the text, in its order. */
  readonly recitals: readonly Recital[];
  /** The one that counts. */
  readonly recital: Recital;
  readonly recognition: Recognition;
}

interface Reading {
  readonly idiom: Idiom;
  readonly read: ReadText;
  readonly understood: number;
  readonly meaningful: number;
}

const GIVES_VALUES = new Set<Statement["kind"]>(["set", "row", "record"]);
const SAYS_NOTHING = new Set<Statement["kind"]>(["blank", "comment", "answer", "echo"]);

function readIn(text: string, idiom: Idiom): Reading {
  const read = readStatements(text, idiom);
  let understood = 0;
  let meaningful = 0;
  for (const { statements } of read.clauses)
    for (const { kind } of statements) {
      if (SAYS_NOTHING.has(kind)) continue;
      meaningful++;
      if (kind !== "foreign") understood++;
    }
  return { idiom, read, understood, meaningful };
}

/**
 * The idiom that makes most of a text, whatever release it is from: the most statements that give values, less those that
 * it cannot read. Undefined where none finds a value, or more is foreign than not.
 */
export function likeliestIdiom(text: string, idioms: readonly Idiom[]): Idiom | undefined {
  const scored = idioms.map((idiom) => {
    const { read, understood, meaningful } = readIn(text, idiom);
    const kinds = read.clauses.flatMap(({ statements }) => statements.map(({ kind }) => kind));
    const values = kinds.filter((kind) => GIVES_VALUES.has(kind)).length;
    // of idioms that share their lines: an end that is there decides, then an end that none expects
    const ends = kinds.includes("end") ? 0.5 : idiom.recital.end === undefined ? 0.25 : 0;
    return { idiom, score: values === 0 ? 0 : values - (meaningful - understood) + ends };
  });
  const best = scored.reduce<(typeof scored)[number] | undefined>(
    (best, each) => (each.score > (best?.score ?? 0) ? each : best),
    undefined,
  );
  return best?.idiom;
}

/** How many of a text's settings a release knows and can hold. */
function fitOf({ read, idiom }: Reading, release: Firmware): { sets: number; fit: number } {
  const keys = keyIndex(release, idiom);
  let sets = 0;
  let fit = 0;
  for (const { statements } of read.clauses)
    for (const statement of statements) {
      const pairs =
        statement.kind === "set"
          ? [[statement.key, statement.value] as const]
          : statement.kind === "record"
            ? statement.values
            : [];
      for (const [key, value] of pairs) {
        sets++;
        const setting = keys.find(key);
        if (setting && parseValue(value, setting.type, idiom.spelling).ok) fit++;
      }
    }
  return { sets, fit };
}

const LEAST_SETS = 3;
const LEAST_SHARE = 0.6;

const HEAD_CHARACTERS = 3000;

/** The idiom that the release named near a text's head speaks: it is tried first, and the others mostly not at all. */
function spokenAtHead(text: string, idioms: readonly Idiom[], catalogue: Catalogue): Idiom | undefined {
  const head = text.slice(0, HEAD_CHARACTERS);
  for (const idiom of idioms) {
    const identity = identityOf(readStatements(head, idiom).clauses, idiom);
    const release = findFirmware(catalogue, identity.family, identity.release);
    if (release.ok && release.value.idiom === idiom.id) return idiom;
  }
  return undefined;
}

/**
 * Which idiom, family and release a text is in, and its read-outs. First what the text says of itself, in the idiom that
 * the named release speaks; where it says nothing, the release that knows most of its settings (`assumed` overrides).
 * Refuses what no idiom understands, and a release that the catalogue lacks.
 */
export function recogniseText(text: string, catalogue: Catalogue, assumed?: Firmware): Result<Recognised> {
  const checked = checkReadable(text);
  if (!checked.ok) return checked;
  const idioms = [...catalogue.idioms.values()].map(idiomOf);
  if (idioms.length === 0)
    return refuse({ code: "idiom-none", message: "The catalogue holds no idiom", hint: "Import one under Firmware" });
  const likely = spokenAtHead(text, idioms, catalogue);
  const readings: Reading[] = [];
  let unknown: Problem | undefined;
  for (const idiom of likely ? [likely, ...idioms.filter((other) => other !== likely)] : idioms) {
    const reading = readIn(text, idiom);
    readings.push(reading);
    if (findReadouts(reading.read.clauses, reading.idiom).length === 0) continue;
    const recitals = recitalsOf(reading.read, reading.idiom, catalogue);
    if (!recitals.ok) {
      unknown ??= recitals.problem;
      continue;
    }
    const recital = chooseRecital(recitals.value);
    if (recital?.release.idiom === reading.idiom.id)
      return ok({
        recitals: recitals.value,
        recital,
        recognition: {
          by: "said",
          evidence: [
            `It says that it comes from ${releaseTitle(recital.release)}`,
            `${reading.understood} of ${reading.meaningful} statements are in the ${reading.idiom.title.toLowerCase()}`,
          ],
        },
      });
  }
  if (unknown) return refuse(unknown);
  return recogniseByFit(readings, catalogue, assumed);
}

/** A release that a text may be read as, and what speaks for it. */
export interface Candidate {
  readonly releaseId: string;
  readonly title: string;
  readonly evidence: string;
}

const MOST_CANDIDATES = 12;

/** Every release that a text may be of: those that it names first, then those that know most of its settings. */
export function candidatesFor(text: string, catalogue: Catalogue): Candidate[] {
  if (!checkReadable(text).ok) return [];
  const readings = new Map([...catalogue.idioms].map(([id, document]) => [id, readIn(text, idiomOf(document))]));
  const found = [...catalogue.releases.values()].flatMap((release) => {
    const reading = readings.get(release.idiom);
    if (!reading) return [];
    const identity = identityOf(reading.read.clauses, reading.idiom);
    const said = identity.family === release.family && identity.release === release.version;
    const { sets, fit } = fitOf(reading, release);
    if (!said && (sets < LEAST_SETS || fit < sets * LEAST_SHARE)) return [];
    const evidence = `${said ? "it names it; " : ""}${fit} of ${sets} settings are known to it`;
    return [{ releaseId: release.id, title: releaseTitle(release), evidence, said, fit, builtOn: release.builtOn }];
  });
  return found
    .toSorted((a, b) => Number(b.said) - Number(a.said) || b.fit - a.fit || (a.builtOn < b.builtOn ? 1 : -1))
    .slice(0, MOST_CANDIDATES)
    .map(({ releaseId, title, evidence }) => ({ releaseId, title, evidence }));
}

/** A text as of a release that somebody named, whatever it says itself. */
export function readTextAs(text: string, catalogue: Catalogue, as: ReadAs): Result<Recognised> {
  const checked = checkReadable(text);
  if (!checked.ok) return checked;
  const document = catalogue.idioms.get(as.release.idiom);
  if (!document)
    return refuse({
      code: "idiom-none",
      message: `The language of ${releaseTitle(as.release)} is not in the catalogue`,
    });
  const idiom = idiomOf(document);
  const reading = readIn(text, idiom);
  const recitals = recitalsAs(reading.read, idiom, as);
  if (!recitals.ok) return recitals;
  const recital = chooseRecital(recitals.value);
  if (!recital) return refuse({ code: "backup-foreign", message: "No read-out was found in this text" });
  const evidence = [`Somebody said that it is of ${releaseTitle(as.release)}`];
  return ok({ recitals: recitals.value, recital, recognition: { by: "told", evidence } });
}

function recogniseByFit(
  readings: readonly Reading[],
  catalogue: Catalogue,
  assumed: Firmware | undefined,
): Result<Recognised> {
  const releases = assumed ? [assumed] : [...catalogue.releases.values()];
  const fits = releases.flatMap((release) => {
    const reading = readings.find((r) => r.idiom.id === release.idiom);
    if (!reading) return [];
    const { sets, fit } = fitOf(reading, release);
    return sets >= LEAST_SETS && fit >= sets * LEAST_SHARE ? [{ release, reading, sets, fit }] : [];
  });
  // of equals the newest: it is what most boards run
  fits.sort((a, b) => b.fit - a.fit || b.release.builtOn.localeCompare(a.release.builtOn));
  const [best, next] = fits;
  if (!best)
    return refuse({
      code: "backup-foreign",
      message: "No read-out was found in this text",
      detail: `No idiom of the catalogue understands it: ${readings
        .map((r) => `${r.idiom.title} ${r.understood} of ${r.meaningful} statements`)
        .join(", ")}`,
      hint: "Take the text from the console's first line to its last, or write its idiom in the workshop",
    });
  const recitals = recitalsOf(best.reading.read, best.reading.idiom, catalogue, best.release);
  if (!recitals.ok) return recitals;
  const recital = chooseRecital(recitals.value);
  if (!recital) return refuse({ code: "backup-foreign", message: "No read-out was found in this text" });
  const evidence = [
    "It does not say what it comes from",
    `${best.fit} of its ${best.sets} settings are known to ${releaseTitle(best.release)}`,
  ];
  if (next) evidence.push(`${next.fit} are known to ${releaseTitle(next.release)}`);
  return ok({ recitals: recitals.value, recital, recognition: { by: "fits", evidence } });
}
