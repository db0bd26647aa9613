import { object, type ObjectSchema } from "yup";
import { batteriesFeeding, isBattery, type Battery } from "@/core/catalog";
import { ANY, batteries, factsOf, YES, type CheckName, type Facts } from "@/core/job/fact";
import { isLoader, isPart, type Part, type Subject } from "@/core/job/subject";
import type { AnyOf, Invariant, Move } from "@/core/job/planner";
import { partTitle, type FittedPart } from "@/core/part";

/** How a part is reached that stands behind the main one: through a line that the main firmware opens. */
export interface Behind extends Pick<FittedPart, "part" | "title" | "place" | "supply"> {
  /** The line opens and closes only while its parts are without their supply. */
  readonly unfed: boolean;
}

/** What a job wants of one of its subjects. */
export interface PartWish {
  /** The release that it runs at the end. */
  readonly release?: { readonly id: string; readonly title: string };
  /** Of a loader, what the release of its part wants of it: “Batten 3 or later”, and why. */
  readonly wants?: string;
  readonly why?: string;
  readonly behind?: Behind;
  /** It runs that release already, and keeps its settings as they are. */
  readonly keeps?: true;
  /** The release that it runs in between, for the line that its own does not open. */
  readonly detour?: { readonly id: string; readonly title: string };
}

/** What a job is about, as far as its steps name it. */
export interface Wish {
  readonly tag: string;
  /** Its parts, and those of their loaders that live in flash and can be other ones. */
  readonly parts: Readonly<Partial<Record<Subject, PartWish>>>;
  /** The batteries of the aircraft, as far as they are known. */
  readonly batteries: readonly Battery[];
  /** What a sign-off answers for: what the goal wants, and the checks that it calls for. */
  readonly owed: Facts;
}

/** One step of a visit: a move, with what people read of it. */
export interface JobMove extends Move {
  /** Its name: its kind, and its subject where that is not the usual one. */
  readonly id: string;
  readonly kind: string;
  readonly subject: Subject;
  readonly title: string;
  readonly why: string;
  /** What is gone for good when it has begun. */
  readonly destroys: readonly { readonly of: Subject; readonly what: "settings" | "firmware" }[];
  /** What it is done to starts anew in its course. */
  readonly restarts: boolean;
  /** The batteries that have to be out when it starts anew: none where it is fed by one of them alone. */
  readonly unfedBy: readonly Battery[];
  /** It writes to the board: whoever stops it leaves something unfinished there. */
  readonly writes?: boolean;
  /** What whoever stops the job leaves on the board: while it is at this step, and when the step was the last that wrote. */
  readonly leaves?: { readonly begun: string; readonly done: string };
  /** A check: what it shows, as a sign-off names it. */
  readonly shows?: string;
}

/** What a job begins with and wants, as its goal says it. */
export interface Terms {
  readonly given: Facts;
  readonly wanted: Facts;
}

/** A kind of step: what it is for a job. A job without a use for it never comes to it, because nothing needs what it gives. */
export interface Action<K extends string = string, R extends object = object> {
  readonly kind: K;
  /** The subject that its name need not say. */
  readonly home: Subject;
  /** What it can be done to in a job. */
  readonly subjects: (wish: Wish) => readonly Subject[];
  readonly moveFor: (wish: Wish, subject: Subject) => JobMove;
  /** What it finds out and later steps need, as it is kept in the record. Blobs are named by their SHA-256. */
  readonly result: ObjectSchema<R>;
  /** What its result shows to be otherwise than foretold. */
  readonly finds?: (result: Partial<R>, subject: Subject) => Facts;
  /** A check: what it is called, and why a job calls for it; undefined where it does not. */
  readonly check?: { readonly name: CheckName; readonly calls: (terms: Terms) => string | undefined };
}
export type ResultOf<A> = A extends Action<string, infer R> ? R : never;

type Told = Pick<JobMove, "title" | "why" | "gives"> & Partial<Omit<JobMove, "id" | "kind" | "subject">>;

interface Of<S extends Subject, R extends object> {
  readonly kind: string;
  /** What one is done to, for each that a job has. */
  readonly subjects?: (wish: Wish) => readonly S[];
  readonly tell: (wish: Wish, subject: S) => Told;
  readonly result?: ObjectSchema<R>;
  readonly finds?: (result: Partial<R>, subject: S) => Facts;
  readonly check?: Action["check"];
}

const NOTHING: ObjectSchema<object> = object({});
/** As what it wants of a subject is told where the job is not known. */
const NO_RELEASE = { id: "", title: "" };
export const releaseWished = ({ parts }: Wish, subject: Subject) => parts[subject]?.release ?? NO_RELEASE;

/** Fills up what most kinds of step do not do. `home`: the subject that its name need not say. */
const actionOn =
  <S extends Subject>(home: S, subjects: (wish: Wish) => readonly S[]) =>
  <const K extends string, R extends object = object>(
    kind: K,
    tell: Of<S, R>["tell"],
    result: ObjectSchema<R> = NOTHING as ObjectSchema<R>,
    more: Pick<Of<S, R>, "finds" | "check" | "subjects"> = {},
  ): Action<K, R> => ({
    kind,
    home,
    subjects: more.subjects ?? subjects,
    result: result.noUnknown().required(),
    ...(more.finds ? { finds: more.finds as NonNullable<Action<K, R>["finds"]> } : {}),
    ...(more.check ? { check: more.check } : {}),
    moveFor: (wish, subject) => ({
      undoes: [],
      costS: 5,
      risk: 0,
      hands: 0,
      destroys: [],
      restarts: false,
      ...throughItsLine(wish, subject, tell(wish, subject as S)),
      unfedBy: isBattery(behindOf(wish, subject)?.supply ?? "board") ? [] : wish.batteries,
      id: stepName(kind, subject, home),
      kind,
      subject,
    }),
  });

/** Whoever speaks to a part behind a line speaks through the line of its kind: another one leads to others. */
function throughItsLine<T extends Told>(wish: Wish, subject: Subject, told: T): T & Pick<JobMove, "needs"> {
  const { needs = {} } = told;
  const behind = behindOf(wish, subject);
  const speaks = behind !== undefined && needs[`${subject as Part}: shows`] !== undefined;
  return { ...told, needs: speaks ? { ...needs, ...factsOf("main", { line: behind.part }) } : needs };
}

const subjectsIn = ({ parts }: Wish): Subject[] => Object.keys(parts) as Subject[];
/** The parts that a job is about. */
export const partsIn = (wish: Wish): Part[] => subjectsIn(wish).filter(isPart);
/** How a part is reached, where it stands behind the main one. */
export const behindOf = ({ parts }: Wish, subject: Subject): Behind | undefined =>
  isPart(subject) ? parts[subject]?.behind : undefined;
/** The parts that stand behind the main one. */
export const partsBehind = (wish: Wish): (Behind & { readonly name: Part })[] =>
  partsIn(wish).flatMap((name) => {
    const behind = behindOf(wish, name);
    return behind ? [{ ...behind, name }] : [];
  });
/** What a part shows while it is worked with after its start: a part behind a line has no console. */
export const faceOf = (wish: Wish, part: Part): "console" | "loader" =>
  behindOf(wish, part) === undefined ? "console" : "loader";
/** “ of the speed controller, front left”; nothing for the main part, whose aircraft is named. */
export const ofPart = (wish: Wish, part: Part): string => {
  const behind = behindOf(wish, part);
  return behind ? ` of ${partTitle(behind)}` : "";
};

/**
 * What has to be decided before a part is taken out of service. Where a detour leads to what the plan is made from, that is
 * taken by itself, at its first step that writes.
 */
export const planFirst = (wish: Wish): Facts => (wish.parts.main?.detour ? {} : { "visit: plan taken": YES });

/** Whether a job writes the settings of a part, by its plan. */
export const isCarried = ({ parts }: Wish, part: Part): boolean =>
  parts[part]?.release !== undefined && parts[part].keeps !== true;

/** A step that is done to each part of a job. */
export const partAction = actionOn("main", partsIn);
/** A step that is done to each loader that lives in flash. */
export const loaderAction = actionOn("main loader", (wish) => subjectsIn(wish).filter(isLoader));
/** A step that is done once in a visit. */
export const visitAction = actionOn("visit", () => ["visit"]);
export const aircraftAction = actionOn("aircraft", () => ["aircraft"]);
/** A step that is done to each battery that feeds something alone. */
export const batteryAction = actionOn("battery", (wish) => batteriesFeeding(partsBehind(wish)));

/** A check of the return to service: called for by the terms of a job, and by no others. */
export const checkAction = <const N extends CheckName>(
  name: N,
  calls: NonNullable<Action["check"]>["calls"],
  tell: (wish: Wish) => Omit<Told, "gives">,
) =>
  aircraftAction(
    `check-${name}`,
    (wish) => ({ hands: 1, ...tell(wish), gives: { [`check ${name}: shown`]: YES } }),
    undefined,
    { check: { name, calls } },
  );

const OF = " of ";
/** A step's name in the record; what is done for the second time in a job has its number behind it. */
export const stepName = (kind: string, subject: Subject, home: Subject): string =>
  subject === home ? kind : `${kind}${OF}${subject}`;
const TIME = / \((\d+)\)$/;
/** Names of steps in their order, each its own: “flash”, then “flash (2)”. */
export const numbered = <M extends { readonly id: string }>(moves: readonly M[]): M[] =>
  moves.map((move, i) => {
    const times = moves.slice(0, i).filter(({ id }) => id === move.id).length;
    return times === 0 ? move : { ...move, id: `${move.id} (${times + 1})` };
  });
/** The same for steps that follow on others, which have their names already. */
export const numberedAfter = <M extends { readonly id: string }>(before: readonly string[], moves: readonly M[]): M[] =>
  numbered([
    ...before.map((id) => ({ id: id.replace(TIME, "") })),
    ...moves.map((move) => ({ ...move, id: move.id.replace(TIME, "") })),
  ]).slice(before.length) as M[];
/** A step's name without the number of its time. */
export const withoutTime = (name: string): string => name.replace(TIME, "");

/** The kind and the subject that a step's name says; no subject where it is the usual one. */
export function partsOfName(whole: string): { readonly kind: string; readonly subject?: Subject } {
  const name = whole.replace(TIME, "");
  const at = name.indexOf(OF);
  return at < 0 ? { kind: name } : { kind: name.slice(0, at), subject: name.slice(at + OF.length) as Subject };
}

/** A check's facts by the terms of a job: those that somebody who signs answers for. */
export const calledFor = (actions: readonly Action[], terms: Terms): Facts =>
  Object.fromEntries(
    actions.flatMap(({ check }) => (check?.calls(terms) === undefined ? [] : [[`check ${check.name}: shown`, YES]])),
  );

const PROPELLERS_OFF: AnyOf = { "aircraft: propellers off": ANY };
const unsafe = ({ title }: JobMove, says: string) => `“${title}” ${says}`;

/** What no job may do, whatever it is for. Each speaks of the very subject that a move destroys. */
export const INVARIANTS: readonly Invariant<JobMove>[] = [
  {
    name: "nothing is destroyed before its rescue is on disk",
    asks: ({ destroys }) =>
      destroys.flatMap(({ of }) => (isPart(of) ? factsOf(of, { "settings kept": ANY, "settings rescued": ANY }) : [])),
    says: (move) => unsafe(move, "would destroy what was not read out"),
  },
  {
    name: "nothing restarts with its propellers on or its battery in",
    asks: ({ restarts, unfedBy }) =>
      restarts ? [PROPELLERS_OFF, ...unfedBy.map((each): AnyOf => batteries([each], "out"))] : [],
    says: (move) => unsafe(move, "wants propellers off and battery out"),
  },
  {
    name: "no loader goes before another way in is known",
    asks: ({ destroys }) => destroys.flatMap(({ of }) => (isLoader(of) ? factsOf(of, { "way round it": ANY }) : [])),
    says: (move) => unsafe(move, "wants another way into the board that is known"),
  },
  {
    name: "no image is written that was not held against the processor",
    asks: ({ destroys }) =>
      destroys.flatMap(({ of, what }) =>
        what === "firmware" && (isPart(of) || isLoader(of)) ? factsOf(of, { "image fits": ANY }) : [],
      ),
    says: (move) => unsafe(move, "wants an image that fits the processor"),
  },
];
