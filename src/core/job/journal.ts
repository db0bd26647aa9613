import { lazy, object, string, type InferType, type ObjectSchema } from "yup";
import { ProblemError } from "@/core/problem";
import { ACTIONS, stepOf, type StepName } from "@/core/job/actions";
import { ENTRIES, NEEDS, NOTE_CODES } from "@/core/job/entry-shapes";

export { NOTE_CODES };
export type NoteCode = (typeof NOTE_CODES)[number];

/** What a schema lets in, as it is kept: nothing of it is changed, and what may be missing is not there. */
type Kept<T> = T extends readonly (infer U)[]
  ? readonly Kept<U>[]
  : T extends object
    ? { readonly [K in keyof T as undefined extends T[K] ? never : K]: Kept<T[K]> } & {
        readonly [K in keyof T as undefined extends T[K] ? K : never]?: Kept<Exclude<T[K], undefined>>;
      }
    : T;
type OneOf<S extends Readonly<Record<string, ObjectSchema<object>>>> = {
  [K in keyof S & string]: { readonly kind: K } & Kept<InferType<S[K]>>;
}[keyof S & string];

/** What a step waits for. */
export type Need = OneOf<typeof NEEDS>;

/** One line of the append-only record, as far as it concerns a job. */
export type Entry = OneOf<typeof ENTRIES> | { readonly kind: "waits"; readonly step: StepName; readonly need: Need };

/** An entry with its place in the bench's journal. `at` in ms since 1970. */
export interface Entered {
  readonly no: number;
  readonly at: number;
  readonly account: string | null;
  readonly entry: Entry;
}

const ofKind = (shapes: Readonly<Record<string, ObjectSchema<object>>>, what: string) =>
  lazy((value: unknown) => {
    const kind = (value as { kind?: unknown } | null | undefined)?.kind;
    const shape = typeof kind === "string" && Object.hasOwn(shapes, kind) ? shapes[kind] : undefined;
    // what is of no kind that is known here is refused, and says so
    const wanted = shape
      ? shape.shape({ kind: string().required() })
      : object({ kind: string().oneOf(Object.keys(shapes), `unknown kind of ${what}`).required() });
    return wanted.required();
  });

const entrySchema = ofKind(
  {
    ...ENTRIES,
    waits: object({ step: string().max(4000).required(), need: ofKind(NEEDS, "need") }),
  },
  "entry",
);

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
