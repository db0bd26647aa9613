import { object, type ObjectSchema } from "yup";
import type { FactName, Facts } from "@/core/job/fact";
import type { Invariant, Move } from "@/core/job/planner";

/** What a job is about, as far as its steps name it. */
export interface Wish {
  readonly tag: string;
  /** The release that the board runs at the end. */
  readonly release: { readonly id: string; readonly title: string };
  /** The board's loader lives in flash and can be another one; what the release wants of it: “Batten 3 or later”, and why. */
  readonly loader?: { readonly wants?: string; readonly why?: string };
}

/** One step of a visit: a move, with what people read of it. */
export interface JobMove extends Move {
  readonly kind: string;
  readonly title: string;
  readonly why: string;
  /** What is gone for good when it has begun. */
  readonly destroys: readonly ("settings" | "firmware" | "loader")[];
  /** The board starts anew in its course. */
  readonly restarts: boolean;
  /** It writes to the board: whoever stops it leaves something unfinished there. */
  readonly writes?: boolean;
  /** What whoever stops the job leaves on the board: while it is at this step, and when the step was the last that wrote. */
  readonly leaves?: { readonly begun: string; readonly done: string };
  /** A check: what it shows, as a sign-off names it. */
  readonly shows?: string;
}

/** A kind of step: what it is for a job. A job without a use for it never comes to it, because nothing needs what it gives. */
export interface Action<K extends string = string, R extends object = object> {
  readonly kind: K;
  readonly moveFor: (wish: Wish) => JobMove;
  /** What it finds out and later steps need, as it is kept in the record. Blobs are named by their SHA-256. */
  readonly result: ObjectSchema<R>;
  /** What its result shows to be otherwise than foretold. Given all that the steps have found out. */
  readonly finds?: (data: Readonly<Record<string, unknown>>) => Facts;
}
export type ResultOf<A> = A extends Action<string, infer R> ? R : never;

type Told = Pick<JobMove, "title" | "why" | "gives"> & Partial<JobMove>;

const NOTHING: ObjectSchema<object> = object({});

/** Fills up what most kinds of step do not do. */
export const action = <const K extends string, R extends object = object>(
  kind: K,
  tell: (wish: Wish) => Told,
  result: ObjectSchema<R> = NOTHING as ObjectSchema<R>,
  finds?: Action["finds"],
): Action<K, R> => ({
  ...(finds ? { finds } : {}),
  kind,
  result: result.noUnknown().required(),
  moveFor: (wish) => ({
    needs: {},
    undoes: [],
    costS: 5,
    risk: 0,
    hands: 0,
    destroys: [],
    restarts: false,
    ...tell(wish),
    kind,
  }),
});

const KEPT: readonly FactName[] = ["settings: kept", "settings: rescued"];
const isSo = (facts: Facts, name: FactName) => facts[name] !== undefined;

/** What no job may do, whatever it is for. */
export const INVARIANTS: readonly Invariant<JobMove>[] = [
  {
    name: "nothing is destroyed before its rescue is on disk",
    forbids: ({ destroys, title }, facts) =>
      destroys.some((each) => each !== "loader") && !KEPT.some((name) => isSo(facts, name))
        ? `“${title}” would destroy what was not read out`
        : undefined,
  },
  {
    name: "nothing restarts with its propellers on or its battery in",
    forbids: ({ restarts, title }, facts) =>
      restarts && !(isSo(facts, "propellers: off") && isSo(facts, "battery: out"))
        ? `“${title}” wants propellers off and battery out`
        : undefined,
  },
  {
    name: "no loader goes before another way in is known",
    forbids: ({ destroys, title }, facts) =>
      destroys.includes("loader") && !isSo(facts, "loader: way round it")
        ? `“${title}” wants another way into the board that is known`
        : undefined,
  },
  {
    name: "no image is written that was not held against the processor",
    forbids: ({ destroys, title }, facts) =>
      destroys.includes("firmware") && !isSo(facts, "image: fits")
        ? `“${title}” wants an image that fits the processor`
        : undefined,
  },
];
