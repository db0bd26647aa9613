/** A place in something that was read: a file, a line and column counted from 1, or a path inside a document. */
export interface Where {
  readonly file?: string;
  readonly line?: number;
  readonly column?: number;
  readonly path?: string;
}

/**
 * What went wrong, in the form in which it is shown and stored.
 * `message` is one sentence without a full stop; `detail` gives facts; `hint` says what to do.
 */
export interface Problem {
  readonly code: string;
  readonly message: string;
  readonly detail?: string;
  readonly hint?: string;
  readonly where?: Where;
}

export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

export const ok = <T>(value: T): Result<T> => ({ ok: true, value });
export const refuse = (problem: Problem): Result<never> => ({ ok: false, problem });

/** Carries a problem through code that has no result to return it in. */
export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.message);
    this.name = "ProblemError";
    this.problem = problem;
  }
}

/** The value of a result; throws its problem. */
export function valueOf<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new ProblemError(result.problem);
}

/** Anything thrown, as a problem. What is not a problem already is a fault of the program and named as one. */
export function problemOf(error: unknown): Problem {
  if (error instanceof ProblemError) return error.problem;
  const detail = error instanceof Error ? error.message : String(error);
  return {
    code: "internal",
    message: "Something in Fresh Start itself failed",
    detail,
    hint: "Try again; if it stays, report it",
  };
}
