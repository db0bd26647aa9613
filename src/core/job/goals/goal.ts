import type { Plan } from "@/core/carryover";
import { batteriesFeeding, type Catalogue, type Release } from "@/core/catalog";
import type { Recital } from "@/core/idiom";
import { batteries, CLOSED, factsOf, YES, type FactName, type Facts } from "@/core/job/fact";
import type { Part } from "@/core/job/subject";
import type { FittedPart } from "@/core/part";
import type { Result } from "@/core/problem";

/** The release that each part runs at the end, or all the while: by id. A part that is not named stays as it is. */
export type Releases = { readonly main: string } & Readonly<Partial<Record<Part, string>>>;

/** “main: runs”, and the like for each part that is named, with the id of its release. */
export const running = (runs: Readonly<Partial<Record<Part, string>>>): Facts =>
  Object.fromEntries(Object.entries(runs).map(([part, id]) => [`${part}: runs` satisfies string as FactName, id]));

/** The parts behind the board that shall run a release of their own at the end. */
export const writtenParts = (runs: Releases): readonly Part[] =>
  (Object.keys(runs) as Part[]).filter((part) => part !== "main");

/** Each of them runs it, set up as it was and proved. */
export const partsProved = (runs: Releases): Facts =>
  Object.assign(
    {},
    ...writtenParts(runs).map((part) => factsOf(part, { runs: runs[part] ?? "", "settings proved": YES })),
  ) as Facts;

/** All that can be reached behind the board is read out; in the end the line to it is closed, and no battery is in that fed it. */
export const readParts = (fitted: readonly FittedPart[]): Facts =>
  fitted.length === 0
    ? {}
    : (Object.assign(
        { "main: line": CLOSED },
        batteries(batteriesFeeding(fitted), "out"),
        ...fitted.map(({ name }) => factsOf(name, { "settings chosen": YES })),
      ) as Facts);

/** Another target than the board's own: no release of the wanted one builds it, and somebody takes what that breaks. */
export interface Instead {
  readonly target: string;
  readonly reason: string;
}

/** What a plan is made from: the backup that the goal names, and the one that the job took of the board. */
export interface Sources {
  readonly chosen?: Pick<Recital, "configuration" | "release">;
  readonly board?: Pick<Recital, "configuration" | "release">;
}

/** What every visit ends with that writes settings: they are proved, what is measured on a board was, and somebody signs. */
export const BACK_IN_SERVICE: Facts = {
  "main: settings proved": YES,
  "main: calibrated": YES,
  "visit: signed off": YES,
};

/** A kind of goal: what is so before the job begins, what shall be so at its end. */
export interface GoalKind<G extends { readonly kind: string }> {
  readonly kind: G["kind"];
  readonly given: (goal: G) => Facts;
  readonly wanted: (goal: G) => Facts;
  /** The parts whose settings go over to the release that they shall run; all that it names, where nothing is said. */
  readonly carries?: (goal: G) => readonly Part[];
  /** The settings come from another aircraft, or from the release where there is none. */
  readonly ofAnother?: true;
  /** What the board itself holds has a part in the plan: by its kind, or by what was wished. */
  readonly keepsOwn?: (goal: G) => boolean;
  /** Its plan, where that is more than one source carried over. */
  readonly plan?: (goal: G, sources: Sources, to: Release, target: string, catalogue: Catalogue) => Result<Plan>;
}
