import { serverProblem } from "@/server/away";
import { isDeepStrictEqual } from "node:util";
import {
  applyEntry,
  currentStep,
  foldJob,
  hindranceAhead,
  isOvertaken,
  lackSentence,
  newJob,
  numberedAfter,
  planJob,
  specOf,
  wishFor,
  withoutTime,
  worldOf,
  type Entered,
  type Entry,
  type Facts,
  type JobState,
  type Progress,
  modelOf,
  partOf,
  stepOf,
  fittedOf,
  isLineOpen,
} from "@/core/job";
import { awaitPresence, type BoardLink } from "@/bench/link";
import { linkThrough } from "@/bench/part-link";
import { STEP_RUNNERS } from "@/bench/steps";
import { reachedAgain } from "@/bench/steps/lines";
import { staysSafe } from "@/bench/steps/make-safe";
import { lostBoard, type StepContext, type StepOutcome } from "@/bench/steps/context";
import type { JobOrder, JobStore } from "@/bench/store";

export interface RunOptions {
  readonly job: JobOrder;
  readonly store: JobStore;
  /** The link to the bay; while nothing was ever put in, it shows no presence. */
  readonly link: BoardLink;
  /**
   * Resolves when something has happened that the wait may be over by: an order, the board, the hands; at once when it
   * has happened since the last wait. Resolving too often does no harm.
   */
  readonly onWait: (state: JobState) => Promise<void>;
  readonly progress: (progress: Progress | undefined, state: JobState) => void | Promise<void>;
  /** Ends the run: the process goes down, or has lost its bench. */
  readonly signal: AbortSignal;
  /** Why the job is taken up in the middle of a step, if it is: without it, because a process ended. */
  readonly interruption?: string;
  /** Gives the means to end the step that is being tried, so that an order to stop need not wait for it. */
  readonly onAttempt?: (stop: AbortController) => void;
}

const REAPPEAR_MS = 5_000;
const RECORD_TROUBLE = new Set(["database-away", "database-busy", "disk-full"]);

/** How a job's run ended. `let-go`: the process was told to stop; the job goes on when it is run again. */
export type RunEnd = "finished" | "stopped" | "let-go";

const outcomeEntry = (step: StepContext["step"], outcome: StepOutcome): Entry => {
  switch (outcome.kind) {
    case "done":
      return { kind: "done", step, evidence: outcome.evidence, data: outcome.data ?? {} };
    case "waits":
      return { kind: "waits", step, need: outcome.need };
    case "failed":
      return { kind: "failed", step, problem: outcome.problem };
  }
};

/**
 * Runs a job from wherever its journal stands to its end. Each step may begin again at any time: what counts is what
 * the board holds and what the journal says, never what this process remembers.
 */
export async function runJob(options: RunOptions): Promise<RunEnd> {
  const { job, store, signal } = options;
  let state = newJob(job.steps);
  let seen = 0;
  const look = async () => {
    const entries = await store.entries();
    state = foldJob(job.steps, entries);
    seen = entries.length;
  };
  const take = (entered: Entered) => {
    state = applyEntry(state, entered);
    seen++;
  };
  const append = async (entry: Entry) => take(await store.append(entry));
  // what follows from how the job stood, and from nothing that a person has said since
  const conclude = async (entry: Entry) => take(await store.append(entry, undefined, seen));

  /** One look at the job, and the step that follows from it; how it ended, if it has. */
  const goOn = async (): Promise<RunEnd | undefined> => {
    await look();
    if (state.phase !== "open") return state.phase;
    const step = currentStep(state);
    if (!step) {
      await conclude({ kind: "finished" });
      return "finished";
    }
    if (await plansAnew(options, state, conclude)) return undefined;
    if (step.status === "failed") {
      await options.progress(undefined, state);
      await options.onWait(state);
      return undefined;
    }
    if (step.status === "to-do" || step.need?.kind === "board") await conclude({ kind: "started", step: step.id });
    await options.progress({}, state);
    const outcome = await attempt(options, state, step.id, append);
    if (outcome === undefined) return undefined;
    const repeated = outcome.kind === "waits" && isDeepStrictEqual(outcome.need, currentStep(state)?.need);
    if (!repeated) await conclude(outcomeEntry(step.id, outcome));
    if (outcome.kind === "waits") {
      await options.progress(undefined, state);
      await options.onWait(state);
    }
    return undefined;
  };

  /** A step that was at its work when the job was last let go of begins again, and its record says so. */
  const takeUp = async (): Promise<undefined> => {
    await look();
    const step = currentStep(state);
    if (state.phase !== "open" || step?.status !== "running") return undefined;
    const text =
      options.interruption ??
      "The bench process ended in the middle of this step. Nothing was lost; the step begins again.";
    await conclude({ kind: "interrupted", step: step.id, text });
    // a board that is put back takes a moment to show itself: that is no cable that came out
    await awaitPresence(options.link, ["console", "loader"], REAPPEAR_MS);
    return undefined;
  };

  let next: () => Promise<RunEnd | undefined> = takeUp;
  while (!signal.aborted) {
    try {
      const end = await next();
      if (end) return end;
      next = goOn;
    } catch (error) {
      // a person was quicker: what they said is on the record now, and is looked at first
      if (!isOvertaken(error)) throw error;
    }
  }
  return "let-go";
}

/** What stands on the cable. A console that passes its bytes on shows as before, and is not heard. */
const seen = (link: BoardLink, passesOn: boolean): Facts => {
  const { kind } = link.presence();
  return kind === "none" || (passesOn && kind === "console") ? {} : { "main: shows": kind };
};

/**
 * Where the world has turned out otherwise than foretold, so that the next step cannot be taken: plans anew from what is
 * so now. Steps that have begun stay as they are; where only those would lead on, they see to it themselves.
 */
async function plansAnew(
  { job, store, link }: RunOptions,
  state: JobState,
  append: (entry: Entry) => Promise<void>,
): Promise<boolean> {
  const step = currentStep(state);
  if (step?.status !== "to-do") return false;
  const catalogue = await store.catalogue();
  const release = catalogue.releases.get(job.goal.runs.main);
  if (!release) return false;
  const model = (await store.knownModel())?.modelId ?? modelOf(state);
  const wish = wishFor(job, release, catalogue.models.get(model ?? "")?.processor, catalogue);
  const { facts } = worldOf(job.goal, wish, state, seen(link, isLineOpen(state)));
  const ahead = state.steps.filter(({ status }) => status === "to-do").map(({ id }) => id);
  const lacks = hindranceAhead(ahead, wish, facts);
  if (lacks.length === 0) return false;
  const planned = planJob(job.goal, wish, facts);
  if (planned.kind === "none") return false;
  const begun = state.steps.flatMap(({ id, status }) => (status === "to-do" ? [] : [id as string]));
  // what is to be done once more by the plan as it was, may be so by the new one
  const recurs = new Set(ahead.map(withoutTime));
  const names = new Set(begun.map(withoutTime));
  const again = planned.moves.map(({ id }) => withoutTime(id)).filter((name) => names.has(name));
  if (again.some((name) => !recurs.has(name))) return false;
  const because = lackSentence(lacks);
  await append({ kind: "planned", steps: numberedAfter(begun, planned.moves).map(specOf), because });
  return true;
}

/** One try at a step. What is thrown becomes an outcome; undefined when the step was let go. */
async function attempt(
  options: RunOptions,
  state: JobState,
  step: StepContext["step"],
  append: (entry: Entry) => Promise<void>,
): Promise<StepOutcome | undefined> {
  const { job, store, link } = options;
  const stop = new AbortController();
  options.onAttempt?.(stop);
  const signal = AbortSignal.any([options.signal, stop.signal]);
  const part = partOf(stepOf(step).subject);
  const fitted = fittedOf(job.goal).find(({ name }) => name === part);
  const context: StepContext = {
    job,
    step,
    part,
    state,
    link: fitted ? linkThrough(link) : link,
    board: link,
    passesOn: isLineOpen(state),
    fitted,
    store,
    catalogue: await store.catalogue(),
    signal,
    progress: (progress) => options.progress(progress, state),
    note: (text, code) => append({ kind: "noted", step, text, ...(code === undefined ? {} : { code }) }),
    passed: (ask, seen, more) => append({ kind: "passed", step, ask, seen, ...more }),
    stored: (stored) => append({ kind: "stored", step, ...stored }),
  };
  try {
    if (!(await staysSafe(context))) return undefined;
    const run = STEP_RUNNERS[stepOf(step).kind];
    const outcome = await run(context);
    const after = (await reachedAgain(context, outcome)) ? await run(context) : outcome;
    return signal.aborted ? undefined : after;
  } catch (error) {
    if (signal.aborted) return undefined;
    const problem = serverProblem(error);
    // a record that cannot be written is no fault of the step, which begins again when it can
    if (problem.code === "bench-fenced" || RECORD_TROUBLE.has(problem.code) || isOvertaken(error)) throw error;
    if (problem.code === "link-lost") {
      await append({
        kind: "noted",
        step,
        text: "The cable came out, or the board lost its power.",
        code: "link-lost",
      });
      return lostBoard();
    }
    // what nobody expected is this step's problem, and nobody else's
    return { kind: "failed", problem };
  }
}
