import { findRelease, type Catalogue } from "@/core/catalog";
import { askCommand, ask, settleConsole } from "@/core/console";
import { commandLine, idiomOf, type Idiom } from "@/core/idiom";
import { readIdentityFacts } from "@/core/checks";
import { type JobData, type JobState, type Need, type StepId } from "@/core/job";
import { ProblemError, valueOf, type Problem } from "@/core/problem";
import { type Identity } from "@/core/config";
import { type BoardLink } from "@/bench/link";
import { type JobOrder, type JobStore } from "@/bench/store";

/** How far a long step is, for bar and words. Times in ms of the board's clock. */
export interface Progress {
  readonly say: string;
  readonly doneShare?: number;
  readonly leftMs?: number;
  readonly cells?: readonly string[];
  readonly ask?: {
    readonly say: string;
    readonly expected: string;
    readonly seen: string;
    readonly wrong: boolean;
    readonly notProvable: boolean;
  };
}

export interface StepContext {
  readonly job: JobOrder;
  readonly step: StepId;
  readonly state: JobState;
  readonly link: BoardLink;
  readonly store: JobStore;
  readonly catalogue: Catalogue;
  progress(progress: Progress): void | Promise<void>;
  /** Writes an entry in the middle of a step. */
  note(text: string): Promise<void>;
  passed(ask: string, seen: string): Promise<void>;
  /** Ends when the step must let go: the job was stopped, or the process goes down. */
  readonly signal: AbortSignal;
}

export type StepOutcome =
  | { readonly kind: "done"; readonly evidence: string; readonly data?: JobData }
  | { readonly kind: "waits"; readonly need: Need }
  | { readonly kind: "failed"; readonly problem: Problem };

export type StepRunner = (context: StepContext) => Promise<StepOutcome>;

export const done = (evidence: string, data: JobData = {}): StepOutcome => ({ kind: "done", evidence, data });
export const waits = (need: Need): StepOutcome => ({ kind: "waits", need });
export const failed = (problem: Problem): StepOutcome => ({ kind: "failed", problem });

export const needBoard = (say: string, asks: readonly string[], countdownS?: number): StepOutcome =>
  waits({ kind: "board", say, asks, ...(countdownS === undefined ? {} : { countdownS }) });

/** The board went away in the middle of a step. Whatever it holds, plugging it in again is the first thing to do. */
export const lostBoard = (): StepOutcome =>
  needBoard(
    "The cable came out, or the board lost its power, in the middle of this step. What was done stays; the step goes on by itself when the board is back.",
    ["Plug the board in again"],
  );

export interface Spoken {
  readonly idiom: Idiom;
  readonly identity: Identity;
}

/** Asks whoever stands on the console who it is, in each idiom that the workshop knows. */
export async function declareBoard(link: BoardLink, catalogue: Catalogue): Promise<Spoken> {
  await settleConsole(link.console);
  let last: ProblemError | undefined;
  for (const document of catalogue.idioms.values()) {
    const idiom = idiomOf(document);
    const quiet = commandLine(idiom, "quiet");
    if (quiet !== undefined) {
      const hushed = await ask(link.console, quiet, idiom, 1_500);
      if (!hushed.ok) {
        last = new ProblemError(hushed.problem);
        continue;
      }
    }
    const declared = await askCommand(link.console, idiom, "declare");
    if (declared.ok) return { idiom, identity: readIdentityFacts(declared.value.output.join("\n"), idiom) };
    last = new ProblemError(declared.problem);
  }
  throw (
    last ?? new ProblemError({ code: "idiom-none", message: "The catalogue holds no idiom to speak to the board in" })
  );
}

/** The same for the board that the job is about; any other is not touched (its chip id decides). */
export async function declareOwn(context: StepContext): Promise<Spoken> {
  const spoken = await declareBoard(context.link, context.catalogue);
  if (spoken.identity.chipId !== context.job.chipId)
    throw new ProblemError({
      code: "board-other",
      message: "Another board is in the bay",
      detail: `This job is for chip ${context.job.chipId}; this one says ${spoken.identity.chipId ?? "no chip id"}`,
      hint: `Put the board of ${context.job.tag} back, then begin the step again`,
    });
  return spoken;
}

export function releaseOf(catalogue: Catalogue, identity: Identity) {
  return valueOf(findRelease(catalogue, identity.family, identity.release));
}

export const count = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
