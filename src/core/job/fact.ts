import type { Battery } from "@/core/catalog";
import type { LoaderOf, Part } from "@/core/job/subject";

/** What can be so of a part. */
type OfPart =
  /** “console”, “loader”: the face that it shows on the cable now. */
  | "shows"
  | "speaks"
  | "known"
  | "target known"
  | "reads"
  | "holds"
  | "runs"
  | "image fits"
  | "calibrated"
  | "settings kept"
  | "settings rescued"
  | "settings chosen"
  | "settings restored"
  | "settings proved"
  /** “sound”, “damaged”: firmware that starts on a damaged one trips over it. */
  | "settings region"
  /** “settings”, “nothing”: what the copy of its settings region holds. */
  | "rescue holds"
  /** The kind of parts that a line leads to, which its console opened; while one is open, nobody speaks to it. Or `CLOSED`. */
  | "line"
  /** The same, whichever parts it leads to. */
  | "line open";
type OfLoader = "seen" | "serves" | "written" | "image fits" | "way round it";
type OfAircraft = "propellers off";
type OfBattery = "is";
type OfVisit = "plan taken" | "signed off";
/** Checks of the return to service. */
export type CheckName = "attitude" | "receiver";

/**
 * What can be so at the bench: of a subject, mostly with a value. There is one value of each at a time: “main: runs” is
 * one release, “main: shows” one face. Nothing else is a fact: a name that is misspelt does not compile.
 */
export type FactName =
  | `${Part}: ${OfPart}`
  | `${LoaderOf}: ${OfLoader}`
  | `aircraft: ${OfAircraft}`
  | `${Battery}: ${OfBattery}`
  | `visit: ${OfVisit}`
  | `check ${CheckName}: shown`;

/** Facts by name, each with its value; `YES` where being so is all there is to say. */
export type Facts = Readonly<Partial<Record<FactName, string>>>;
export const YES = "yes";

/** Each of some batteries is in, or out. */
export const batteries = (which: readonly Battery[], are: "in" | "out"): Facts =>
  Object.fromEntries(which.map((battery): [FactName, string] => [`${battery}: is`, are]));

/** Facts of one subject, by what is so of it. */
export const factsOf = <S extends Part | LoaderOf>(
  subject: S,
  facts: Readonly<Partial<Record<S extends LoaderOf ? OfLoader : OfPart, string>>>,
): Facts =>
  Object.fromEntries(Object.entries(facts).map(([property, value]) => [`${subject}: ${property}`, value])) as Facts;

const holds = (facts: Facts, name: FactName, value: string): boolean =>
  value === ANY ? facts[name] !== undefined : facts[name] === value;

/** No line to parts is open. */
export const CLOSED = "closed";

/** In a need: whatever the value is, as long as there is one. */
export const ANY = "*";

/** Which of the wanted facts are not so. */
export const unmet = (facts: Facts, wanted: Facts): FactName[] =>
  namesOf(wanted).filter((name) => !holds(facts, name, wanted[name] ?? YES));

export const namesOf = (facts: Facts): FactName[] => Object.keys(facts) as FactName[];

/** The facts in one text, the same for the same facts whatever order they came in. */
export const keyOf = (facts: Facts): string =>
  namesOf(facts)
    .toSorted()
    .map((name) => `${name}=${facts[name] ?? ""}`)
    .join("\n");

export const tellFact = (name: FactName, value: string): string =>
  value === YES || value === ANY ? name : `${name} ${value}`;
