import {
  findRelease,
  firmwareById,
  releaseById,
  sameChip,
  type Catalogue,
  type Firmware,
  type Release,
} from "@/core/catalog";
import { ask, settleConsole } from "@/core/console";
import { commandLine, idiomOf, lackOf, requireCommand, type Idiom } from "@/core/idiom";
import { readIdentityFacts } from "@/core/checks";
import {
  detourOf,
  releaseFor,
  resultOf,
  type Entry,
  type AnyResult,
  type JobState,
  type Need,
  type NoteCode,
  type Part,
  type Progress,
  type StepName,
} from "@/core/job";
import { ProblemError, valueOf, type Problem } from "@/core/problem";
import type { Identity } from "@/core/config";
import type { FittedPart } from "@/core/part";
import type { BoardLink } from "@/bench/link";
import type { FiledPart, JobOrder, JobStore } from "@/bench/store";

export interface StepContext {
  readonly job: JobOrder;
  readonly step: StepName;
  /** The part that it is done to, or whose loader it is done to; the main one for what is done to all. */
  readonly part: Part;
  readonly state: JobState;
  /** The way to that part: the board itself, or through the line that it opened. */
  readonly link: BoardLink;
  /** The board, whatever the step is done to. */
  readonly board: BoardLink;
  /** A line is open: the console of the board is not heard. */
  readonly passesOn: boolean;
  /** The part that stands behind the board; undefined: the step is done to the board itself. */
  readonly fitted: FittedPart | undefined;
  readonly store: JobStore;
  readonly catalogue: Catalogue;
  progress(progress: Progress): void | Promise<void>;
  /** Writes an entry in the middle of a step. */
  note(text: string, code?: NoteCode): Promise<void>;
  passed(ask: string, seen: string, more?: Pick<Extract<Entry, { kind: "passed" }>, "wrong" | "pose">): Promise<void>;
  /** So many lines of the script are stored on the board; answers by their hash. */
  stored(stored: { readonly lines: number; readonly answers: string; readonly started?: true }): Promise<void>;
  /** Ends when the step must let go: the job was stopped, or the process goes down. */
  readonly signal: AbortSignal;
}

export type StepOutcome =
  | { readonly kind: "done"; readonly evidence: string; readonly data?: AnyResult }
  | { readonly kind: "waits"; readonly need: Need }
  | { readonly kind: "failed"; readonly problem: Problem };

export type StepRunner = (context: StepContext) => Promise<StepOutcome>;

export const done = (evidence: string, data: AnyResult = {}): StepOutcome => ({ kind: "done", evidence, data });
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

/** Of which part something is filed; undefined for the main one. */
export const filedAs = ({ fitted, state }: Pick<StepContext, "fitted" | "state">): FiledPart | undefined => {
  const withId = resultOf(state, "back-up").backupId;
  return fitted && { name: fitted.name, place: fitted.place, ...(withId === undefined ? {} : { withId }) };
};

export interface Spoken {
  readonly idiom: Idiom;
  readonly identity: Identity;
}

const PROBE_MS = 700;
const PROBE = { maxRestarts: 0, answerLimitUs: 3_000_000 } as const;

/** What was understood on a link last, by its clock, which all who use the link share: the next who asks begins with it. */
const understood = new WeakMap<BoardLink["clock"], string>();

/** Idioms that a board can be asked in, in the order in which they are worth trying: the one that was understood last, then those that most releases speak. */
function idiomsOf(catalogue: Catalogue, last: string | undefined): Idiom[] {
  const releases = [...catalogue.releases.values()];
  const spoken = (id: string) => (id === last ? Infinity : releases.filter((release) => release.idiom === id).length);
  const spokenTo = [...catalogue.idioms.values()]
    .map(idiomOf)
    .filter((idiom) => lackOf(idiom, ["declare"]) === undefined);
  return spokenTo.toSorted((a, b) => spoken(b.id) - spoken(a.id));
}

/**
 * Asks whoever stands on the console who it is, in each idiom that the workshop knows, once each. Idioms may share words:
 * the one that counts is the one that the named release speaks.
 */
export async function declareBoard(link: BoardLink, catalogue: Catalogue): Promise<Spoken> {
  await settleConsole(link.console);
  let last: ProblemError | undefined;
  for (const idiom of idiomsOf(catalogue, understood.get(link.clock))) {
    const quiet = commandLine(idiom, "quiet");
    if (quiet !== undefined) await ask(link.console, quiet, idiom, PROBE_MS, PROBE);
    const declared = await ask(link.console, requireCommand(idiom, "declare"), idiom, PROBE_MS, PROBE);
    if (!declared.ok) {
      last = new ProblemError(declared.problem);
      continue;
    }
    const identity = readIdentityFacts(declared.value.output.join("\n"), idiom);
    if (identity.family === undefined) continue;
    understood.set(link.clock, idiom.id);
    const release = findRelease(catalogue, identity.family, identity.release);
    const document = release.ok ? catalogue.idioms.get(release.value.idiom) : undefined;
    return { idiom: document ? idiomOf(document) : idiom, identity };
  }
  throw (
    last ??
    new ProblemError({
      code: "idiom-none",
      message: "No idiom of the catalogue is understood by this board",
      hint: "Import the idiom that its firmware speaks under Firmware",
    })
  );
}

/** The same for the board that the job is about; any other is not touched (its chip id decides). */
export async function declareOwn(context: StepContext): Promise<Spoken> {
  const spoken = await declareBoard(context.board, context.catalogue);
  if (!sameChip(spoken.identity.chipId, context.job.chipId))
    throw new ProblemError({
      code: "board-other",
      message: "Another board is in the bay",
      detail: `This job is for chip ${context.job.chipId}; this one says ${spoken.identity.chipId ?? "no chip id"}`,
      hint: `Put the board of ${context.job.tag} back, then begin the step again`,
    });
  return spoken;
}

/** The release that the main part shall run at the end. Throws the problem that it is not in the catalogue. */
export const releaseWanted = ({ catalogue, job }: Pick<StepContext, "catalogue" | "job">): Release =>
  valueOf(releaseById(catalogue, job.goal.runs.main));

/** What is written to the board in between. Throws where the goal names nothing, or a release that is not there. */
export function detourWanted({ catalogue, job }: Pick<StepContext, "catalogue" | "job">): {
  readonly release: Release;
  readonly target: string;
} {
  const detour = detourOf(job.goal);
  if (!detour) throw new Error("the goal makes no detour");
  return { release: valueOf(releaseById(catalogue, detour.releaseId)), target: detour.target };
}

/** The release that the step's part shall run at the end, whichever part that is. Throws where the goal names none, or one that is not there. */
export function firmwareWanted({ catalogue, job, part }: Pick<StepContext, "catalogue" | "job" | "part">): Firmware {
  const id = releaseFor(job.goal, part);
  const firmware = id === undefined ? undefined : firmwareById(catalogue, id);
  if (!firmware) throw new Error(`the goal names no release of ${part} that is there`);
  return firmware;
}

export function releaseOf(catalogue: Catalogue, identity: Identity) {
  return valueOf(findRelease(catalogue, identity.family, identity.release));
}

export const count = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
