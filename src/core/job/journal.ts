import { array, boolean, lazy, mixed, number, object, string, type ObjectSchema } from "yup";
import { ProblemError, type Problem } from "@/core/problem";
import { ACTIONS, stepOf, type AnyResult, type StepName } from "@/core/job/actions";
import type { StepSpec } from "@/core/job/plan-job";

/** What a step waits for. Everything that a person or the board has to do is one of these. */
export type Need =
  | { readonly kind: "decisions"; readonly open: number; readonly say: string }
  /** Everything is decided: somebody takes the plan by their word. `asks` are reasons to think, which only a lead may pass over. */
  | {
      readonly kind: "take";
      readonly say: string;
      readonly asks: readonly string[];
      /** What came out otherwise on its twin, and what has changed since the job was ordered: to be looked at. */
      readonly looks?: readonly string[];
      /** The script that was written, and how the twin ended with it, by their hashes. */
      readonly script: string;
      readonly twin?: string;
    }
  | {
      readonly kind: "confirm";
      readonly say: string;
      readonly asks: readonly string[];
      /** What a person says by confirming. */
      readonly word: string;
    }
  /** The board says something else than what it is taken for: both readings of each sign. */
  | {
      readonly kind: "against";
      readonly say: string;
      readonly readings: readonly {
        readonly sign: string;
        readonly taken: string;
        readonly seen: string;
        readonly speaksFor: readonly string[];
      }[];
    }
  | { readonly kind: "board"; readonly say: string; readonly asks: readonly string[]; readonly countdownS?: number }
  /** A check that failed: what it means, and the correction that follows, if one does. */
  | {
      readonly kind: "check";
      readonly say: string;
      readonly correction?: { readonly itemId: string; readonly value: number; readonly label: string };
    }
  | { readonly kind: "sense"; readonly say: string; readonly expected: string }
  | { readonly kind: "sign"; readonly say: string }
  | { readonly kind: "again"; readonly say: string };

export const NOTE_CODES = [
  "word-swallowed",
  "stayed-away",
  "link-lost",
  "by-hand",
  "rested",
  "too-early",
  "fed",
  "battery-in",
  "as-asked",
  "not-so",
] as const;
export type NoteCode = (typeof NOTE_CODES)[number];

/** One line of the append-only record, as far as it concerns a job. */
export type Entry =
  /** `documents`: hash of the list of document versions that the job rests on. */
  | { readonly kind: "ordered"; readonly headline: string; readonly documents?: string }
  /** The world turned out otherwise than foretold: from here on these steps, and why. */
  | { readonly kind: "planned"; readonly steps: readonly StepSpec[]; readonly because: string }
  | { readonly kind: "started"; readonly step: StepName }
  /** `code` is what the product goes by; the text is for people. */
  | { readonly kind: "noted"; readonly step: StepName; readonly text: string; readonly code?: NoteCode }
  /**
   * So many lines of the step's script are stored on the board, whatever happens to it now; `answers` by their hash.
   * `started`: it has started since, or a hand starts it next.
   */
  | {
      readonly kind: "stored";
      readonly step: StepName;
      readonly lines: number;
      readonly answers: string;
      readonly started?: true;
    }
  | { readonly kind: "waits"; readonly step: StepName; readonly need: Need }
  | { readonly kind: "done"; readonly step: StepName; readonly evidence: string; readonly data: AnyResult }
  | { readonly kind: "failed"; readonly step: StepName; readonly problem: Problem }
  | { readonly kind: "interrupted"; readonly step: StepName; readonly text: string }
  /** `after`: whose word for all it follows, where that was needed. */
  | { readonly kind: "decided"; readonly choices: Readonly<Record<string, string>>; readonly after?: string }
  | { readonly kind: "taken" }
  /** The plan is laid open again: nothing was sent yet. */
  | { readonly kind: "reopened" }
  /** `signs`: what contradicts and is taken all the same, with the reason. */
  | {
      readonly kind: "confirmed";
      readonly step: StepName;
      readonly signs?: readonly string[];
      readonly reason?: string;
    }
  /** `wrong`: it was moved as asked, by somebody’s word, and this is what was seen. `pose` in degrees, where it was measured. */
  | {
      readonly kind: "passed";
      readonly step: StepName;
      readonly ask: string;
      readonly seen: string;
      readonly wrong?: true;
      readonly pose?: { readonly roll: number; readonly pitch: number };
    }
  /** A value of the plan is another one after a check: it is written, proved and checked again. Plan and script by their hashes. */
  | {
      readonly kind: "amended";
      readonly step: StepName;
      readonly itemId: string;
      readonly shown: string;
      readonly why: string;
      readonly planSha: string;
      readonly scriptSha: string;
    }
  | { readonly kind: "again"; readonly step: StepName }
  /** `person`: what whoever signed is called by, where it was said. */
  | { readonly kind: "signed"; readonly statement: string; readonly person?: string }
  /** `entries`: how many the visit had before this one, so that none can be left out of its papers. */
  | { readonly kind: "finished"; readonly entries?: number }
  | { readonly kind: "stopped"; readonly reason: string; readonly entries?: number };

/** An entry with its place in the bench's journal. `at` in ms since 1970. */
export interface Entered {
  readonly no: number;
  readonly at: number;
  readonly account: string | null;
  readonly entry: Entry;
}

const text = () => string().max(4000).required();
const problem = object({
  code: text(),
  message: text(),
  detail: string().max(4000),
  hint: string().max(4000),
  where: mixed(),
});
const need = object({
  kind: string()
    .oneOf(["decisions", "take", "confirm", "against", "board", "check", "sense", "sign", "again"])
    .required(),
  say: text(),
  open: number().integer(),
  looks: array(string().max(4000).defined()),
  correction: object({
    itemId: string().max(200).required(),
    value: number().required(),
    label: string().max(200).required(),
  }).default(undefined),
  readings: array(
    object({
      sign: string().max(200).required(),
      taken: string().max(400).required(),
      seen: string().max(400).required(),
      speaksFor: array(string().max(200).defined()).required(),
    }),
  ),
  script: string().max(64),
  twin: string().max(64),
  asks: array(string().max(1000).defined()),
  word: string().max(200),
  countdownS: number(),
  expected: string().max(400),
});

const spec = object({
  id: string().max(60).required(),
  title: string().max(400).required(),
  why: string().max(400).required(),
  writes: boolean(),
  shows: string().max(200),
});

const shapes: Record<Entry["kind"], ObjectSchema<object>> = {
  ordered: object({ headline: text(), documents: string().max(64) }),
  planned: object({ steps: array(spec).min(1).max(60).required(), because: text() }),
  started: object({ step: text() }),
  noted: object({ step: text(), text: text(), code: string().oneOf(NOTE_CODES) }),
  stored: object({
    step: text(),
    lines: number().integer().min(0).required(),
    answers: string().max(64).required(),
    started: boolean(),
  }),
  waits: object({ step: text(), need: need.required() }),
  done: object({ step: text(), evidence: text(), data: object().required() }),
  failed: object({ step: text(), problem: problem.required() }),
  interrupted: object({ step: text(), text: text() }),
  decided: object({ choices: object().required(), after: string().max(400) }),
  taken: object(),
  reopened: object(),
  confirmed: object({ step: text(), signs: array(string().max(800).defined()), reason: string().max(400) }),
  passed: object({
    step: text(),
    ask: text(),
    seen: text(),
    wrong: boolean(),
    pose: object({ roll: number().required(), pitch: number().required() }).default(undefined),
  }),
  amended: object({
    step: text(),
    itemId: text(),
    shown: text(),
    why: text(),
    planSha: string().max(64).required(),
    scriptSha: string().max(64).required(),
  }),
  again: object({ step: text() }),
  signed: object({ statement: text(), person: string().max(80) }),
  finished: object({ entries: number().integer().min(0) }),
  stopped: object({ reason: text(), entries: number().integer().min(0) }),
};

const entrySchema = lazy((value: unknown) => {
  const kind = (value as { kind?: string } | null)?.kind;
  const shape =
    kind !== undefined && kind in shapes
      ? shapes[kind as Entry["kind"]]
      : object({ known: boolean().required("unknown kind of entry") });
  return shape.shape({ kind: string().required() });
});

/** Checks an entry that comes out of the store, whichever version of the product wrote it. Throws Yup's ValidationError. */
export const readEntry = (value: unknown): Entry =>
  entrySchema.validateSync(value, { strict: true }) as unknown as Entry;

/**
 * Checks an entry that goes into the store: what a step leaves has the form that its kind says today. One of a kind that
 * is not known here is kept as it is. Throws Yup's ValidationError.
 */
export function checkEntry(value: unknown): Entry {
  const entry = readEntry(value);
  if (entry.kind === "done")
    ACTIONS.find(({ kind }) => kind === stepOf(entry.step).kind)?.result.validateSync(entry.data, { strict: true });
  return entry;
}

/** Where a job's record stands: whether it has ended, and how many entries it has. */
export interface Standing {
  readonly open: boolean;
  readonly entries: number;
}

/**
 * What every store holds to before it takes an entry: nothing stands after the end of a job; and what was judged by the
 * record as it stood is not taken when somebody's word has come between. `seen`: how many entries it was judged by;
 * without it, it holds whatever came between. Throws the problem.
 */
export function checkPlace({ open, entries }: Standing, seen: number | undefined): void {
  if (!open)
    throw new ProblemError({
      code: "job-ended",
      message: "This job has ended",
      hint: "Look at its card: it says how. What is still to do is a job of its own",
    });
  if (seen !== undefined && seen !== entries)
    throw new ProblemError({
      code: "job-moved-on",
      message: "The job has moved on meanwhile",
      detail: `Its record had ${seen} entries, and has ${entries} now`,
      hint: "Look at the card again",
    });
}

/** Whether an entry was refused because of what had come before it (`checkPlace`). */
export const isOvertaken = (error: unknown): boolean =>
  error instanceof ProblemError && ["job-ended", "job-moved-on"].includes(error.problem.code);
