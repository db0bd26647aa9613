import { capital } from "@/core/config";
import {
  batteriesFeeding,
  batteriesSaid,
  compilePattern,
  fillPattern,
  processorOf,
  type Battery,
  type LineWay,
  type Processor,
  type Release,
} from "@/core/catalog";
import { ask, askCommand, settleConsole } from "@/core/console";
import { idiomOf, type Idiom } from "@/core/idiom";
import { detourOf, fittedOf, lineLeadsTo, resultOf, type Goal } from "@/core/job";
import { askLoader, type LoaderWord } from "@/core/loader";
import { partTitle, wayTo, type FittedPart } from "@/core/part";
import { ProblemError, valueOf, type Problem } from "@/core/problem";
import { linkThrough } from "@/bench/part-link";
import { batteriesMeasured, readSenses } from "@/core/checks";
import { declareBoard, declareOwn, needBoard, type StepContext, type StepOutcome } from "@/bench/steps/context";

/** How the firmware on the board opens lines to a kind of part, and in which language it is told. */
export interface Line {
  readonly way: LineWay;
  readonly idiom: Idiom;
  readonly release: Release;
}

const ANSWER_MS = 1_500;
/** Beside the silence that its document names. */
const MORE_QUIET_MS = 60;
const POLL_US = 400_000;
/** So long hands are waited for in one try of a step. */
const HANDS_US = 120_000_000;

/** The line to a kind of part, by the release that the board runs as far as the job knows. Throws the problem that there is none. */
export function lineTo(
  { catalogue, state, job }: Pick<StepContext, "catalogue" | "state" | "job">,
  kind: string,
): Line {
  const written = state.steps.some(
    (step) => step.kind === "first-start" && step.subject === "main" && step.status === "done",
  );
  const { fromRelease } = resultOf(state, "know-board");
  const release = catalogue.releases.get(
    detourOf(job.goal)?.releaseId ?? (written ? undefined : fromRelease) ?? job.goal.runs.main,
  );
  const way = release && wayTo(release, kind);
  const document = release && catalogue.idioms.get(release.idiom);
  if (!release || !way || !document)
    throw new ProblemError({
      code: "line-none",
      message: `The firmware on the board opens no line to the ${kind}`,
      ...(release ? { detail: `${release.family} ${release.version} has no words for it` } : {}),
      hint: "Stop the job; order it on a release that opens one",
    });
  return { way, idiom: idiomOf(document), release };
}

const words = (pattern: string, no: number): string => fillPattern(compilePattern(pattern), { no: String(no) });

/** Processors that the releases of a kind of part are built for. */
export const processorsOfKind = ({ catalogue }: Pick<StepContext, "catalogue">, kind: string): Processor[] => {
  const ids = [...catalogue.parts.values()].flatMap(({ part, targets }) =>
    part === kind ? targets.map(({ processor }) => processor) : [],
  );
  return [...new Set(ids)].map((id) => processorOf(catalogue, id));
};

/** What answers behind the line as the loader of such a part would; undefined where nothing does. */
export async function whoAnswers(context: StepContext, kind: string): Promise<LoaderWord | undefined> {
  const link = linkThrough(context.board);
  const seen = link.presence();
  if (seen.kind !== "loader") return undefined;
  return askLoader(link, seen, processorsOfKind(context, kind));
}

/** Leaves the line still for as long as it takes to listen again, then says words; whether they were heard, and done. */
async function sayAlone({ board }: StepContext, { way, idiom }: Line, text: string) {
  await board.clock.waitUntil(board.clock.nowUs() + (way.quietMs + MORE_QUIET_MS) * 1000);
  return ask(board.console, text, idiom, ANSWER_MS, { maxRestarts: 0, answerLimitUs: ANSWER_MS * 1000 });
}

const refusal = (message: string, text: string | undefined, hint: string): Problem => ({
  code: "line-refused",
  message,
  ...(text === undefined ? {} : { detail: text }),
  hint,
});

/** Opens the line to one part; a console that does not is a problem. */
export async function openTo(context: StepContext, line: Line, no: number): Promise<void> {
  await settleConsole(context.board.console);
  const reply = valueOf(await ask(context.board.console, words(line.way.opens, no), line.idiom, ANSWER_MS));
  if (reply.answer !== "accepted")
    throw new ProblemError(
      refusal(
        `The board does not open the line to its ${line.way.part}`,
        reply.text,
        line.way.unfed
          ? `Take ${batteriesSaid(feeding(context.job.goal))} out, then begin the step again`
          : "Look at their wires, then begin the step again",
      ),
    );
}

/** Leads an open line on to a part; whether it was heard. */
export async function turnTo(context: StepContext, line: Line, no: number): Promise<boolean> {
  if (line.way.turns === undefined) return false;
  const reply = await sayAlone(context, line, words(line.way.turns, no));
  return reply.ok && reply.value.answer === "accepted";
}

/** Closes a line; why it stays open, where it does. */
export async function closeLineOf(context: StepContext, line: Line): Promise<string | undefined> {
  const reply = await sayAlone(context, line, line.way.closes);
  if (!reply.ok) return "it does not answer";
  return reply.value.answer === "accepted" ? undefined : (reply.value.text ?? "it is refused");
}

/** Whether the console is heard: then there is no line open. */
export async function isHeard(context: StepContext): Promise<boolean> {
  await settleConsole(context.board.console);
  return declareBoard(context.board, context.catalogue).then(
    () => true,
    () => false,
  );
}

interface Hands {
  readonly say: string;
  readonly expected: string;
  readonly seen: string;
  readonly until: () => Promise<boolean>;
}

/** Asks for hands until what they do can be measured. False: nobody has done it for as long as a try of a step lasts. */
export async function untilDone(context: StepContext, { say, expected, seen, until }: Hands): Promise<boolean> {
  const { clock } = context.board;
  const end = clock.nowUs() + HANDS_US;
  while (clock.nowUs() < end && !context.signal.aborted) {
    if (context.board.presence().kind !== "console") return false;
    if (await until()) return true;
    await context.progress({ say, ask: { say, expected, seen, wrong: false, notProvable: false } });
    await clock.waitUntil(clock.nowUs() + POLL_US);
  }
  return false;
}

async function batteriesIn(context: StepContext): Promise<Battery[]> {
  const { idiom } = await declareOwn(context);
  const { output } = valueOf(await askCommand(context.board.console, idiom, "sense"));
  return batteriesMeasured(readSenses(output.join("\n"), idiom)).map(({ which }) => which);
}

/** The batteries that feed parts which a job is about. */
export const feeding = (goal: Goal): readonly Battery[] => batteriesFeeding(fittedOf(goal));

const silent = (part: FittedPart): StepOutcome =>
  needBoard(
    `${capital(partTitle(part))}, does not answer. What was done stays; the step goes on by itself when it does.`,
    part.supply === "board" ? ["Look at the wire to it"] : [`Put the ${part.supply} in`, "Look at the wire to it"],
    10,
  );

/** Whether the open line leads to a part now. Ids of loaders need not be unique: only the firmware in between knows. */
async function leadsTo(context: StepContext, line: Line, { part, no }: FittedPart): Promise<boolean> {
  if (line.way.turns !== undefined) return (await turnTo(context, line, no)) || turnTo(context, line, no);
  const single = fittedOf(context.job.goal).filter((each) => each.part === part).length === 1;
  // it may just be waking
  if (single) return ((await whoAnswers(context, part)) ?? (await whoAnswers(context, part))) !== undefined;
  await closeLineOf(context, line);
  return false;
}

/**
 * A part in its loader behind the line, brought back there from wherever it stands: the line turned, opened anew, its supply
 * asked for. `id`: what its loader has to say, where that is known. What to do where it cannot be reached.
 */
export async function requirePart(
  context: StepContext,
  part: FittedPart,
  id?: string,
): Promise<LoaderWord | StepOutcome> {
  if (context.board.presence().kind !== "console")
    return needBoard(
      "The board is not on the cable, or does not run. What was done stays; the step goes on by itself when it is back.",
      ["Plug the board in again"],
    );
  const line = lineTo(context, part.part);
  // another line that is open would answer with parts of its own
  const open = lineLeadsTo(context.state);
  if (open !== undefined && open !== part.part) await closeLineOf(context, lineTo(context, open));
  const isIt = (word: LoaderWord | undefined) => word !== undefined && (id === undefined || word.id === id);
  if (!(await leadsTo(context, line, part))) {
    const opened = await openAnew(context, line, part);
    if (opened) return opened;
  }
  const wakesUp = async () => (await whoAnswers(context, part.part)) !== undefined;
  if (!(await wakesUp())) {
    const say = part.supply === "board" ? `Look at the wire to ${partTitle(part)}` : `Put the ${part.supply} in`;
    if (!(await untilDone(context, { say, expected: "answers", seen: "silent", until: wakesUp }))) return silent(part);
  }
  const word = await whoAnswers(context, part.part);
  if (!word) return silent(part);
  if (isIt(word)) return word;
  throw new ProblemError({
    code: "part-other",
    message: `Another part answers where ${partTitle(part)}, was read`,
    detail: `Its loader says ${word.id}; the one that this job knows says ${id ?? ""}`,
    hint: "Put the part back that this job began with, or stop the job and order it anew",
  });
}

/**
 * Whether a part behind the line that fell silent in the middle of a step answers again: it had lost its supply, stays in its
 * loader with what was written, and is picked up there. False where it had not, or nobody gives it back.
 */
export async function reachedAgain(context: StepContext, outcome: StepOutcome): Promise<boolean> {
  const { fitted } = context;
  if (!fitted || outcome.kind !== "failed" || context.board.presence().kind !== "console") return false;
  const answers = async () => (await whoAnswers(context, fitted.part)) !== undefined;
  if ((await answers()) || (await answers())) return false;
  await context.note(`${capital(partTitle(fitted))}, fell silent in the middle of this step.`, "part-silent");
  const say =
    fitted.supply === "board" ? `Look at the wire to ${partTitle(fitted)}` : `Put the ${fitted.supply} in again`;
  return untilDone(context, { say, expected: "answers", seen: "silent", until: answers });
}

/** The line is not open: its console hears, and opens it again, once nothing behind it has its supply. */
async function openAnew(context: StepContext, line: Line, part: FittedPart): Promise<StepOutcome | undefined> {
  // neither the console nor the part: the line is open, and the part without its supply
  if (!(await isHeard(context))) return undefined;
  if (line.way.unfed) {
    const all = batteriesSaid(feeding(context.job.goal));
    const out = await untilDone(context, {
      say: `Take ${all} out: the line opens only then`,
      expected: "0.0 V",
      seen: "in",
      until: async () => (await batteriesIn(context)).length === 0,
    });
    if (!out)
      return needBoard(`The line to the parts is closed, and opens only without ${all}.`, [`Take ${all} out`], 10);
  }
  await openTo(context, line, part.no);
  return undefined;
}
